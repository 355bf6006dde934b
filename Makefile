# make demo    sets up .venv and runs the demonstration
# make test    the whole check: style, types, layers, tests with doctests
# make bench   prints each measured row beside its bar
# make coverage  how many of the collected sample tasks are solved, left open, wrong, by level
# make hunt    every row of the long tables of the tests, then random questions held against numbers, SECONDS=1200 from SEED=0 on; failures as lines for tests/data/hunted.jsonl
# make fuzz    100,000 random and mutated formulas, statements, tables and files
PYTHON ?= python3
SECONDS ?= 1200
SEED ?= 0
VENV := .venv
BIN := $(VENV)/bin
SOURCES := pyproject.toml setup.py src/gelvo/reading/formula.lark src/gelvo/reading/generate.py

.PHONY: demo test bench coverage fuzz hunt clean

$(VENV)/installed: $(SOURCES)
	test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --editable .
	$(BIN)/python -m compileall -q src/gelvo
	touch $@

$(VENV)/developed: $(VENV)/installed
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --editable ".[development]"
	touch $@

demo: $(VENV)/installed
	$(BIN)/gelvo demo

test: $(VENV)/developed
	$(BIN)/python -m gelvo.reading.generate
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports --no-logo
	$(BIN)/pytest -n 2

bench: $(VENV)/developed
	$(BIN)/python benchmarks/run.py

coverage: $(VENV)/developed
	$(BIN)/python tests/sample_tasks.py

hunt: $(VENV)/developed
	GELVO_PROPERTY_TESTS=hunt $(BIN)/pytest -q -n 2
	$(BIN)/python -W ignore tests/hunt/run.py --seconds $(SECONDS) --seed $(SEED)

fuzz: $(VENV)/developed
	$(BIN)/python tests/fuzz.py 100000

clean:
	rm -rf $(VENV) build demo-results .mypy_cache .ruff_cache .pytest_cache .hypothesis

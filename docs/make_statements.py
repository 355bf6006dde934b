"""Writes the tables of statements in docs/derivations.md from the rows of the language.

Run it after a row was added or changed; tests/test_documents.py says when the page is no longer true.
"""

from __future__ import annotations

from pathlib import Path

from gelvo.derivation.guide import markdown

PAGE = Path(__file__).with_name("derivations.md")
BEGIN, END = "<!-- statements: made by docs/make_statements.py -->\n", "<!-- end of statements -->\n"


def page() -> str:
    """The page with the tables as the rows are now."""
    before, _, rest = PAGE.read_text(encoding="utf-8").partition(BEGIN)
    return f"{before}{BEGIN}{markdown()}{END}{rest.partition(END)[2]}"


if __name__ == "__main__":
    PAGE.write_text(page(), encoding="utf-8")

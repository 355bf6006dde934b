"""Makes the stand-alone parser from the grammar file; run by the package's build and by the test command."""

from __future__ import annotations

import hashlib
import io
import os
from pathlib import Path

FOLDER = Path(__file__).parent
STARTS = ["start", "pieces"]
GRAMMAR, PARSER = FOLDER / "formula.lark", FOLDER / "_formula_parser.py"


def parser_source() -> str:
    """The Python source of the stand-alone parser."""
    from lark import Lark
    from lark.tools.standalone import gen_standalone

    grammar = GRAMMAR.read_text(encoding="utf-8")
    instance = Lark(grammar, start=STARTS, parser="lalr", propagate_positions=True, maybe_placeholders=False)
    out = io.StringIO()
    gen_standalone(instance, out=out)  # type: ignore[no-untyped-call]
    return stamp() + out.getvalue()


def stamp() -> str:
    """The first line of the parser, which tells the grammar that it was made from."""
    return f"# made from the grammar {hashlib.sha256(GRAMMAR.read_bytes()).hexdigest()}\n"


def write() -> None:
    """Writes the parser beside the grammar when it is missing or belongs to another grammar."""
    if PARSER.exists() and PARSER.read_text(encoding="utf-8").startswith(stamp()):
        return
    temporary = PARSER.with_suffix(".tmp")
    temporary.write_text(parser_source(), encoding="utf-8")
    os.replace(temporary, PARSER)


if __name__ == "__main__":
    write()

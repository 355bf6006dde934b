"""Makes the stand-alone parser from the grammar file; run by the package's build and by the test command."""

from __future__ import annotations

import io
import os
from pathlib import Path

FOLDER = Path(__file__).parent
GRAMMAR, PARSER = FOLDER / "formula.lark", FOLDER / "_formula_parser.py"


def parser_source() -> str:
    """The Python source of the stand-alone parser."""
    from lark import Lark
    from lark.tools.standalone import gen_standalone

    instance = Lark(GRAMMAR.read_text(encoding="utf-8"), parser="lalr", propagate_positions=True, maybe_placeholders=False)
    out = io.StringIO()
    gen_standalone(instance, out=out)
    return out.getvalue()


def write() -> None:
    """Writes the parser beside the grammar when it is missing or older."""
    if PARSER.exists() and PARSER.stat().st_mtime >= GRAMMAR.stat().st_mtime:
        return
    temporary = PARSER.with_suffix(".tmp")
    temporary.write_text(parser_source(), encoding="utf-8")
    os.replace(temporary, PARSER)


if __name__ == "__main__":
    write()

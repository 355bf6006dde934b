"""The language of derivations, a file for each subject: each ends in its rows."""

from collections import defaultdict

from gelvo.derivation.statement import Statement
from gelvo.derivation.statements import calculus, differential, fields, matrices, naming, output, rewriting, solving, systems
from gelvo.derivation.statements.formula import FORMULA

SUBJECTS: dict[str, tuple[Statement, ...]] = {
    "What a file is about": naming.STATEMENTS,
    "Equations, numbers, checks": solving.STATEMENTS,
    "Differential equations": differential.STATEMENTS,
    "Rewriting": rewriting.STATEMENTS,
    "Calculus": calculus.STATEMENTS,
    "Fields and tensors": fields.STATEMENTS,
    "Matrices": matrices.STATEMENTS,
    "Mechanics, networks, numbers": systems.STATEMENTS,
    "Figures, code, paper": output.STATEMENTS,
}
STATEMENTS = tuple(row for rows in SUBJECTS.values() for row in rows)
BY_FIRST_WORD: defaultdict[str, list[Statement]] = defaultdict(list)
for _row in sorted(STATEMENTS, key=lambda row: -len(row.opening)):  # `solve numerically` before `solve`
    BY_FIRST_WORD[_row.opening.split()[0]].append(_row)

__all__ = ["BY_FIRST_WORD", "FORMULA", "STATEMENTS", "SUBJECTS"]

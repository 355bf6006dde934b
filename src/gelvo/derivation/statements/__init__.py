"""What the words of a statement do, a file for each subject: each ends in its table from the opening words to the work."""

from gelvo.derivation.statements import calculus, fields_and_matrices, output, rewriting, solving, systems
from gelvo.derivation.statements.parts import Handler

_SUBJECTS = (rewriting, calculus, fields_and_matrices, systems, solving, output)

# longer openings first: `solve numerically` before `solve`
STATEMENTS: dict[str, Handler] = dict(
    sorted(((words, work) for subject in _SUBJECTS for words, work in subject.STATEMENTS.items()), key=lambda row: -len(row[0]))
)

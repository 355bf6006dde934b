"""Random formulas as a physicist writes them: sums, products, quotients and functions of lines, with letters and kinks now and then."""

from __future__ import annotations

from hunt.equations import some, used
from hunt.plain import holds, mp, read, value

LETTERS = ("a", "b", "w", "p")
SMOOTH = ("exp", "sin", "cos", "ln", "sqrt", "atan", "tanh", "sinh", "cosh", "tan", "asin", "erf", "exp", "sin", "cos")
KINKED = ("abs", "sign", "heaviside", "floor", "cbrt", "abs", "abs")
OF_COMPLEX = ("abs", "arg", "re", "im", "conj", "exp", "sqrt", "ln")


def line(random, x="x", letters=()):
    slope = some(random, "", "", "", "2*", "-", "3*", "1/2*", *(f"{n}*" for n in letters))
    shift = some(random, "", "", "", " + 1", " - 1", " + 2", " - 3", " + 1/2", *(f" - {n}" for n in letters))
    return f"({slope}{x}{shift})"


def smooth(random, x="x", letters=(), depth=2):
    """A formula built of smooth functions."""
    if depth <= 0:
        return some(random, x, x, x, line(random, x, letters), f"{x}^2", f"1/{x}", str(random.randint(1, 3)), *letters)
    kind = random.random()

    def part():
        return smooth(random, x, letters, depth - 1)

    if kind < 0.2:
        return f"({part()} {some(random, '+', '-')} {part()})"
    if kind < 0.4:
        return f"{some(random, '', '2*', '-')}{part()}*{part()}"
    if kind < 0.5:
        return f"{part()}/{some(random, part(), line(random, x, letters), f'({x}^2 + 1)', f'({x}^2 - 1)')}"
    if kind < 0.6:
        return f"({part()})^{some(random, '2', '3', '(-1)', '(-2)', '(1/2)', '(3/2)', '(1/3)', *letters)}"
    return f"{some(random, *SMOOTH)}({part()})"


def rough(random, x="x", letters=(), depth=2):
    """A formula with a kink or a jump somewhere."""
    kink = f"{some(random, *KINKED)}({smooth(random, x, letters, some(random, 0, 0, 1))})"
    if random.random() < 0.15:
        kink = f"{some(random, 'min', 'max')}({x}, {line(random, x, letters)})"
    other = smooth(random, x, letters, depth - 1)
    return some(
        random, kink, f"{kink}*({other})", f"({kink} + {other})", f"{some(random, *SMOOTH)}({kink})", f"({other})/({kink} + 2)"
    )


def complex_valued(random, x="x", letters=()):
    """A formula of a real variable with complex values on the way, or at the end."""
    inner = some(
        random,
        f"(1 + 1j*{x})",
        f"exp(1j*{x})",
        f"({x} + 2j)",
        f"(1j*{x} - 1)",
        f"({x}^2 - 1 + 1j)",
        *(f"({x} + 1j*{n})" for n in letters),
    )
    outer = f"{some(random, *OF_COMPLEX)}({inner})"
    return some(
        random,
        outer,
        f"1/{inner}",
        f"{inner}^{some(random, '2', '(-2)', '(1/2)')}",
        f"{outer}*{smooth(random, x, letters, 1)}",
        f"1/(2 + {inner})",
    )


def letters_of(random, share=0.4):
    return tuple(random.sample(LETTERS, random.choice((1, 1, 2)))) if random.random() < share else ()


def facts_of(random, *texts, share=0.6):
    """Facts about the letters that occur."""
    found = [n for n in LETTERS if any(n in used(t) for t in texts)]
    facts = [f"{n} {some(random, '>', '>', '>', '<', '!=')} 0" for n in found if random.random() < share]
    facts += [f"{n} = floor({n})" for n in found if random.random() < 0.12]
    if len(found) > 1 and random.random() < 0.25:
        one, other = random.sample(found, 2)
        facts.append(some(random, f"{one} > {other}", f"{one} = 2*{other}", f"{one} = {other}^2", f"{one} >= abs({other})", f"{one} != {other}", f"{one} = {other} + 1", f"{one} < {other} - 1", f"{one}^2 > {other}", f"{one} = -{other}"))  # fmt: skip
    return facts


def points(random, texts, given, count=3):
    """Numbers for the letters: generic ones once, then by chance equal, opposite or zero to each other, as far as the facts allow."""
    letters = [n for n in LETTERS if any(n in used(t) for t in texts)]
    result = []
    for trial in range(24):
        if len(result) >= count or (result and not letters):
            break
        signs = [mp.mpf(random.choice((-1, 1))) for _ in letters]
        at = {n: s * mp.mpf(k) / 17 for n, k, s in zip(letters, (11, 29, 43, 61), signs, strict=False)}
        if trial and letters:
            at = {n: mp.mpf(random.choice((-2, -1, 0, 1, 2, 3))) / random.choice((1, 2)) for n in letters}
        for name, formula in (fact.split(" = ") for fact in given if " = " in fact):
            at[name] = value(read(formula), at)
        if all(holds(read(fact), at) for fact in given):
            result.append(at)
    return result

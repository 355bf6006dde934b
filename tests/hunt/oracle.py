"""Integrals, limits and sums of formula texts by numbers alone: each says a number, "diverges", or None where numbers cannot tell."""

from __future__ import annotations

from itertools import pairwise

from hunt.plain import NoValue, losses_told, mp, value

DIVERGES = "diverges"


def at_place(tree, x, letters, over_complex=True):
    """The formula as a function of one number."""

    def work(v):
        return value(tree, {**letters, x: v}, over_complex)

    return work


def parts_with(tree, x):
    """All parts of a tree that hold the name."""
    found = []

    def visit(node):
        if not isinstance(node, tuple) or node[0] == "number":
            return False
        inside = node == ("name", x) or max([visit(part) for part in node[1:]])  # every part is visited
        if inside:
            found.append(node)
        return inside

    visit(tree)
    return list(dict.fromkeys(found))


SMOOTH = ("exp", "sin", "cos", "sinh", "cosh", "tanh", "atan", "erf", "erfc")


def breaking_parts(tree, x):
    """The parts at whose zeros a formula may break: divisors, bases of powers, and what stands in functions with kinks, poles or cuts."""
    inside = parts_with(tree, x)
    held = [part[2] if part[0] == "/" else part[1] for part in inside if part[0] in "/^"]
    held += [argument for part in inside if part[0] == "call" and part[1] not in SMOOTH for argument in part[2:]]
    held += [("-", *part[2:4]) for part in inside if part[0] == "call" and part[1] in ("min", "max")]
    held = [("-", *part[1:]) if part[0] in ("<", ">", "<=", ">=") else part for part in held]  # of a law in sections
    steps = [part for part in inside if part[:2] in (("call", "floor"), ("call", "ceil"))]
    return [part for part in dict.fromkeys((*held, *steps)) if parts_with(part, x)]


def turning_places(tree, x, low, high, letters, grid=240):
    """Where a part of the formula changes its sign between two ends: poles, kinks and jumps stand at such places."""
    places = [low + (high - low) * (mp.mpf(k) + mp.mpf("0.381966")) / grid for k in range(grid)]
    found = []
    for part in breaking_parts(tree, x):
        floored = part[:2] in (("call", "floor"), ("call", "ceil"))
        work = at_place(part[2] if floored else part, x, letters)

        def real(v, work=work, floored=floored):
            try:
                found_value = mp.re(work(v))
                return mp.floor(found_value) if floored else found_value
            except (NoValue, ZeroDivisionError, ValueError):
                return None

        row = [real(v) for v in places]
        for (v, one), (w, other) in pairwise(zip(places, row, strict=True)):
            if one is None or other is None or (one == other if floored else one * other > 0):
                continue
            for _ in range(70):
                middle = (v + w) / 2
                here = real(middle)
                same = here is not None and (here == one if floored else here * one > 0)
                v, w = (middle, w) if same else (v, middle)
            near = (v + w) / 2
            whole = mp.nint(near * 12) / 12
            found.append(whole if abs(whole - near) < mp.mpf(10) ** -15 else near)
    return sorted(set(found))


def integral(tree, x, low, high, letters=None, digits=22):
    """The integral over a path of real numbers, cut where parts of the formula change their sign; ends may be infinite."""
    letters = letters or {}
    sign = 1
    if low > high:
        low, high, sign = high, low, -1
    if low == high:
        return mp.mpf(0)
    with mp.workdps(digits):
        ends = max(low, mp.mpf(-40)), min(high, mp.mpf(40))
        if ends[0] >= ends[1]:
            return None
        inner = [p for p in turning_places(tree, x, *ends, letters) if low < p < high]
        if len(inner) > 24:
            return None
        work = at_place(tree, x, letters)
        for place in (low, *inner, high):
            if _diverges(work, place, low, high):
                return DIVERGES
        cuts = [low, *inner, high]
        if low == -mp.inf and high == mp.inf and not inner:
            cuts = [low, mp.mpf(0), high]
        try:
            first, error = mp.quad(work, cuts, error=True, maxdegree=7)
            finer = sorted({*cuts, *(_between(a, b) for a, b in pairwise(cuts))})
            second = mp.quad(work, finer, maxdegree=7)
        except (NoValue, ZeroDivisionError, ValueError, OverflowError, TypeError):
            return None
        if (
            not mp.isfinite(first)
            or error > mp.mpf(10) ** -8 * (1 + abs(first))
            or abs(first - second) > mp.mpf(10) ** -8 * (1 + abs(first))
        ):
            return None
        return sign * second


FAR = (16, 32, 64)


def decaying_integral(tree, kernel, x, low, letters):
    """The integral of a formula times a smooth kernel from a finite place, or from -inf, to inf: Gauss-Legendre on short pieces.

    The product is next to nothing beyond one of FAR; the pieces are cut where parts of the formula change their sign.
    """
    work = at_place(("*", kernel, tree), x, letters)
    with mp.workdps(18):
        try:
            far = next((f for f in FAR if _has_died_away(work, f, low)), None)
            if far is None:
                return None
            first = max(low, mp.mpf(-far))
            inner = [p for p in turning_places(tree, x, first, mp.mpf(far), letters, 120) if first < p < far]
            cuts = sorted({first, mp.mpf(far), *inner, *(mp.mpf(k) for k in range(4 - far, far, 4) if k > first)})
            if len(cuts) > 120:
                return None
            found, error = mp.quad(work, cuts, method="gauss-legendre", maxdegree=4, error=True)
            return found if error < mp.mpf(10) ** -9 else None
        except (NoValue, ZeroDivisionError, ValueError, OverflowError, TypeError):
            return None


def _has_died_away(work, far, low):
    """Whether a few places from here to the farthest one all show next to nothing."""
    places = [far, far + mp.mpf("0.7"), far * mp.mpf("1.3"), max(FAR)]
    return all(abs(work(side * mp.mpf(v))) < mp.mpf(10) ** -11 for v in places for side in ((1,) if low > -mp.inf else (1, -1)))


def _between(a, b):
    if a == -mp.inf:
        return b - mp.mpf("1.7")
    return a + mp.mpf("1.7") if b == mp.inf else a + (b - a) * mp.mpf("0.43")


def _diverges(work, place, low, high):
    """A growth like 1/distance, or faster, towards a place (like 1/x or slower decay far out, where no wave hides it)."""
    rows = []
    try:
        if abs(place) == mp.inf:
            signs = {
                mp.sign(mp.re(work(mp.sign(place) * mp.mpf(10) ** k * (1 + mp.mpf(j) / 13)))) for k in (4, 6) for j in range(7)
            }
            if len(signs) > 1:
                return False  # a wave may make it converge
            sizes = [abs(work(mp.sign(place) * mp.mpf(10) ** k)) * mp.mpf(10) ** k for k in (4, 6, 8, 10)]
            return all(b > mp.mpf("0.9") * a and b > mp.mpf(10) ** -6 for a, b in pairwise(sizes))
        for side in (-1, 1):
            if low < place + side * mp.mpf(10) ** -8 < high:
                rows.append([abs(work(place + side * mp.mpf(10) ** -k)) * mp.mpf(10) ** -k for k in (6, 8, 10, 12)])
    except (NoValue, ZeroDivisionError, ValueError, OverflowError):
        return False
    return any(all(b > mp.mpf("0.9") * a and b > mp.mpf(10) ** -9 for a, b in pairwise(row)) for row in rows)


def approach(tree, x, place, side, letters, crests=False):
    """Values of the formula nearer and nearer to a place, with 300 digits; None stands where there is no value.

    crests: far out at pi/2 and whole turns, where sin(x) is 1.
    """
    work = at_place(tree, x, letters)
    found = []
    with mp.workdps(300), losses_told():
        for k in range(2, 9) if abs(place) == mp.inf else range(6, 48, 6):
            spread = 1 + mp.mpf(1) / (3 + k)
            v = mp.sign(place) * mp.mpf(10) ** k * spread if abs(place) == mp.inf else place + side * mp.mpf(10) ** -k * spread
            v = mp.sign(place) * mp.pi * (2 * mp.mpf(10) ** k + mp.mpf(1) / 2) if crests else v
            try:
                found.append(work(v))
            except (NoValue, ZeroDivisionError, ValueError, OverflowError, MemoryError):
                found.append(None)
    return found


def approaches(tree, x, place, side, letters):
    """The rows of `approach` from each side asked for: "above", "below", None for both; far out also on the crests of waves."""
    if abs(place) == mp.inf:
        return [approach(tree, x, place, 0, letters, crests) for crests in (False, True)]
    signs = {"above": (1,), "below": (-1,), None: (1, -1)}[side]
    return [approach(tree, x, place, sign, letters) for sign in signs]


def settled(found):
    """The number a row of values comes to rest at: its steps shrink by half or more each time; None where they do not."""
    if None in found[-5:]:
        return None
    steps = [abs(b - a) for a, b in pairwise(found[-5:])]
    if all(b <= a * mp.mpf("0.6") or b < mp.mpf(10) ** -30 for a, b in pairwise(steps)) and steps[-1] < mp.mpf(10) ** -5:
        return found[-1]
    return None


def grows(found):
    """Whether a row of values leaves every bound, by at least the half at each step."""
    if None in found[-5:]:
        return False
    sizes = [abs(v) for v in found[-5:]]
    return all(b > mp.mpf("1.5") * a for a, b in pairwise(sizes)) and sizes[-1] > 1000


def summed(tree, k, low, high, letters=None):
    """A sum over whole numbers; an infinite one where its terms fall like those of a geometric series, or like a power below -1."""
    letters = letters or {}
    work = at_place(tree, k, letters)
    with mp.workdps(30):
        try:
            if high != mp.inf:
                return mp.fsum(work(mp.mpf(j)) for j in range(int(low), int(high) + 1))
            row = [work(mp.mpf(j)) for j in range(int(low), int(low) + 400)]
            sizes = [abs(t) for t in row]
            if max(sizes[390:]) < mp.mpf(10) ** -25 and max(sizes[390:]) <= max(sizes[340:350]):
                return mp.fsum(row)
            if min(sizes[380:]) >= mp.mpf("0.5") * max(sizes[180:220]) and min(sizes[380:]) > mp.mpf(10) ** -6:
                return DIVERGES
            if any(abs(mp.im(t)) for t in row[-3:]) or min(mp.re(t) for t in row[50:]) * max(mp.re(t) for t in row[50:]) <= 0:
                return None
            far = [abs(work(mp.mpf(10) ** j)) for j in (4, 5, 6)]
            rates = [mp.log10(a / b) for a, b in pairwise(far)]
            if all(abs(r - 1) < mp.mpf("0.02") for r in rates) or all(r < mp.mpf("0.9") for r in rates):
                return DIVERGES
            if min(rates) > mp.mpf("1.4"):
                return mp.fsum(row) + mp.sumem(work, [int(low) + 400, mp.inf], tol=mp.mpf(10) ** -15)
        except (NoValue, ZeroDivisionError, ValueError, OverflowError, TypeError):
            return None
    return None

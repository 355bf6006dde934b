"""Matrices with planted spectra, ranks and inverses; what the library says of them held against numbers."""

from __future__ import annotations

from random import Random

import gelvo
from hunt.equations import shown, some
from hunt.plain import NoValue, holds, mp, read, value

LETTERS = ("a", "b", "c")
LONGEST = 20_000  # characters of a result that is worth holding against numbers


def product(left, right):
    return [
        ["+".join(f"({p})*({q})" for p, q in zip(row, column, strict=True)) for column in zip(*right, strict=True)]
        for row in left
    ]


def planted(random):
    """P*D*P^(-1) with whole P of determinant 1, and D of Jordan blocks with numbers, roots or letters."""
    size = random.choice((2, 2, 3))
    pool = ["0", "1", "2", "-1", "-3", "1/2", "sqrt(3)", "-sqrt(2)", "a", "b", "a + 1", "-a", "1 + sqrt(5)"]
    values = [some(random, *(pool if random.random() < 0.5 else pool[:6])) for _ in range(size)]
    if random.random() < 0.5:
        values[1] = values[0]
    blocks = [["0"] * size for _ in range(size)]
    for k, v in enumerate(values):
        blocks[k][k] = v
    for k in range(size - 1):
        if values[k] == values[k + 1] and random.random() < 0.6:
            blocks[k][k + 1] = "1"
    lower = [[("1" if i == j else str(random.randint(-2, 2)) if j < i else "0") for j in range(size)] for i in range(size)]
    shift = [[("1" if i == j else "0") for j in range(size)] for i in range(size)]
    inverse = inverse_of_unit(lower)
    if random.random() < 0.3:
        lower, inverse = shift, shift
    return product(product(lower, blocks), inverse), values


def inverse_of_unit(lower):
    """The inverse of a lower triangular matrix with ones on its diagonal."""
    size = len(lower)
    found = [[0] * size for _ in range(size)]
    for j in range(size):
        for i in range(size):
            found[i][j] = (i == j) - sum(int(lower[i][k]) * found[k][j] for k in range(i))
    return [[str(e) for e in row] for row in found]


def free(random):
    """Any entries, of any shape."""
    rows, columns = random.choice(((2, 2), (2, 2), (3, 3), (2, 3), (3, 2)))
    entries = ("0", "1", "2", "-1", "1/2", "a", "b", "-a", "a*b", "a + b", "a - 1", "sqrt(2)", "c")
    return [[some(random, *entries) for _ in range(columns)] for _ in range(rows)], None


def task(seed):
    random = Random(seed)
    rows, values = planted(random) if random.random() < 0.5 else free(random)
    letters = [n for n in LETTERS if any(n in e.replace("sqrt", "") for row in rows for e in row)]
    given = [f"{n} {some(random, '>', '!=')} 0" for n in letters if random.random() < 0.3]
    return rows, values, letters, given


def points(random, letters, given):
    found = []
    for trial in range(20):
        if len(found) > 4 or (found and not letters):
            break
        at = {n: mp.mpf(k) / 17 for n, k in zip(letters, (11, 29, 43), strict=False)}
        if trial:
            at = {n: mp.mpf(random.choice((-2, -1, 0, 1, 2))) / random.choice((1, 1, 2)) for n in letters}
        if all(holds(read(g), at) for g in given):
            found.append(at)
    return found


def numbers(rows, at, over_complex=False):
    return mp.matrix([[value(read(str(e)), at, over_complex) for e in row] for row in rows])


def rank_of(m):
    """The number of pivots, by elimination with the largest pivot."""
    m, count = m.copy(), 0
    for column in range(m.cols):
        best = max(range(count, m.rows), key=lambda i: abs(m[i, column]), default=None)
        if best is None or abs(m[best, column]) < 1e-40:
            continue
        for j in range(m.cols):
            m[count, j], m[best, j] = m[best, j], m[count, j]
        for i in range(count + 1, m.rows):
            factor = m[i, column] / m[count, column]
            for j in range(m.cols):
                m[i, j] -= factor * m[count, j]
        count += 1
    return count


def largest(m):
    return max(abs(m[i, j]) for i in range(m.rows) for j in range(m.cols))


def agree(conditions, at):
    return all(holds(read(str(c)), at, True) for c in conditions)


def judge(seed):
    """'solved', 'open' where the library declined everything, or what is wrong."""
    rows, values, letters, given = task(seed)
    random = Random(seed + 1)
    m = gelvo.matrix(rows)
    places = points(random, letters, given)
    states = [in_all_cases(m, rows, places, given), *forms(m, rows, places, given)] if random.random() < 0.5 else []
    states += [one(m, rows, places, given) for one in ((of_square if len(rows) == len(rows[0]) else of_any), of_any)]
    if values is not None:
        states.append(spectrum(m, rows, values, places, given))
    wrong = [s for s in states if s.startswith("WRONG")]
    return wrong[0] if wrong else "solved" if "solved" in states else "open"


def limited(work):
    """The result of a call, or None where it declines."""
    try:
        with gelvo.time_limit(10):
            return work()
    except (gelvo.NotSolved, gelvo.Undecided, gelvo.TimeLimitReached):
        return None


def of_square(m, rows, places, given):
    size = len(rows)
    told = "open"
    found = limited(m.determinant)
    if found is not None:
        told = "solved"
        for at in places:
            if abs(value(read(str(found)), at) - mp.det(numbers(rows, at))) > 1e-30:
                return f"WRONG determinant {found} at {shown(at)}"
    try:
        inverse = limited(lambda: m.inverse(given=given))
    except gelvo.DomainError:
        if any(abs(mp.det(numbers(rows, at))) > 1e-30 for at in places):
            return "WRONG no inverse"
        return told
    if inverse is None:
        return told
    for k, at in enumerate(places):
        a = numbers(rows, at)
        if not agree(inverse.conditions, at):
            if not k and abs(mp.det(a)) > 1e-30:
                return f"WRONG the conditions {inverse.conditions} of the inverse at {shown(at)}"
            continue
        if abs(mp.det(a)) < 1e-30:
            return f"WRONG an inverse at {shown(at)}"
        if largest(a * numbers(inverse.entries, at) - mp.eye(size)) > 1e-25:
            return f"WRONG inverse at {shown(at)}"
    return "solved"


def of_any(m, rows, places, given):
    told = "open"
    rank = limited(lambda: m.rank(given=given))
    if rank is not None:
        told = "solved"
        for at in places:
            if agree(rank.conditions, at) and rank_of(numbers(rows, at)) != rank:
                return f"WRONG rank {rank} at {shown(at)}"
    reduced = limited(lambda: m.reduced(given=given))
    if reduced is not None:
        told = "solved"
        for k, at in enumerate(places):
            if not agree(reduced.conditions, at):
                if not k and letters_generic(reduced.conditions, at):
                    return f"WRONG the conditions {reduced.conditions} at {shown(at)}"
                continue
            try:
                echelon = numbers(reduced.entries, at)
            except NoValue:
                return f"WRONG no value of the reduced form at {shown(at)}"
            a = numbers(rows, at)
            both = mp.matrix(a.rows + echelon.rows, a.cols)
            both[: a.rows, :], both[a.rows :, :] = a, echelon
            if not rank_of(a) == rank_of(echelon) == rank_of(both):
                return f"WRONG reduced form at {shown(at)}"
    kernel = limited(lambda: m.null_space(given=given))
    for at in places if kernel is not None else []:
        a = numbers(rows, at)
        if not agree(kernel.conditions, at):
            continue
        if len(kernel) != a.cols - rank_of(a):
            return f"WRONG {len(kernel)} vectors in the null space at {shown(at)}"
        if any(largest(a * numbers(v.entries, at)) > 1e-25 for v in kernel):
            return f"WRONG null space at {shown(at)}"
    right = [["1"], *[["b"]] * (len(rows) - 1)]
    try:
        solution = limited(lambda: m.solve(gelvo.matrix(right), given=given))
    except gelvo.DomainError as fault:
        for at in places:
            at = {"b": mp.mpf(29) / 17, **at}
            if (
                len(
                    {
                        rank_of(numbers(rows, at)),
                        rank_of(numbers([[*r, *s] for r, s in zip(rows, right, strict=True)], at)),
                        len(rows[0]),
                    }
                )
                == 1
            ):
                if " if " in str(fault):
                    continue
                return f"WRONG {fault} at {shown(at)}"
        return told
    for at in places if solution is not None else []:
        at = {"b": mp.mpf(29) / 17, **at}
        if not agree(solution.conditions, at):
            continue
        a = numbers(rows, at)
        if rank_of(a) < a.cols or largest(a * numbers(solution.entries, at) - numbers(right, at)) > 1e-25:
            return f"WRONG solution at {shown(at)}"
    return told


def in_all_cases(m, rows, places, given):
    """Each row of the tables at the places that it speaks of; at each place one row does."""
    told = "open"
    for method, judged in (("rank", rank_at), ("null_space", kernel_at)):
        table = limited(lambda method=method: getattr(m, method)(given=given, cases=True))
        if table is None:
            continue
        told = "solved"
        for at in places:
            there = [row for row in table if speaks_of(row.when, at)]
            if not there:
                return f"WRONG no case of {method} at {shown(at)}"
            fault = next(
                (f for row in there if row.result is not None and (f := judged(row.result, numbers(rows, at), at))), None
            )
            if fault:
                return f"WRONG {method} in a case at {shown(at)}: {fault}"
    return told


def speaks_of(conditions, at):
    """Whether conditions hold at a place, a = sqrt(2*b^2) up to rounding; one without a value there does not."""
    try:
        for tree in (read(str(c)) for c in conditions):
            same = tree[0] == "=" and abs(value(tree[1], at, True) - value(tree[2], at, True)) < mp.mpf(10) ** -40
            if not same and (tree[0] == "=" or not holds(tree, at, True)):
                return False
    except NoValue:
        return False
    return True


def rank_at(found, a, at):
    return "" if rank_of(a) == found else f"{found} instead of {rank_of(a)}"


def kernel_at(found, a, at):
    columns = [numbers(v.entries, at, True) for v in found]
    if len(columns) != a.cols - rank_of(a):
        return f"{len(columns)} vectors"
    return next(("no solution" for c in columns if largest(a * c) > 1e-25 or largest(c) < 1e-25), "")


def forms(m, rows, places, given):
    """Decompositions and functions, each by what defines it."""
    yield from (of_parts(m, rows, places, given, *row) for row in PARTS)
    if len(rows) == len(rows[0]):
        yield from (of_function(m, rows, places, given, *row) for row in FUNCTIONS)


PARTS = (
    ("lu_decomposition", lambda a, p, low, up: p * a - low * up),
    ("qr_decomposition", lambda a, q, r: q * r - a),
    ("jordan_form", lambda a, p, j: a * p - p * j),
)
FUNCTIONS = (("exponential", lambda a: mp.expm(a)), ("square_root", None), ("power", lambda a: a**5))


def of_parts(m, rows, places, given, method, gap):
    if method == "jordan_form" and len(rows) != len(rows[0]):
        return "open"
    try:
        found = limited(lambda: getattr(m, method)(given=given))
    except gelvo.DomainError:
        return "open"
    if found is None or len(str(found)) > LONGEST:
        return "open"
    for at in places:
        if not agree(found.conditions, at):
            continue
        try:
            parts = [numbers(p.entries, at, True) for p in found]
        except NoValue:
            return f"WRONG no value of {method} at {shown(at)}"
        a = numbers(rows, at)
        if largest(gap(a, *parts)) > 1e-25 * max(1, *(largest(p) for p in parts)):
            return f"WRONG {method} at {shown(at)}"
        if method == "jordan_form" and abs(mp.det(parts[0])) < 1e-30:
            return f"WRONG {method}: dependent vectors at {shown(at)}"
    return "solved"


def of_function(m, rows, places, given, method, wanted):
    extra = ("n",) if method == "power" else ()
    try:
        found = limited(lambda: getattr(m, method)(*extra, given=given))
    except gelvo.DomainError:
        return "open"
    if found is None or len(str(found)) > LONGEST:
        return "open"
    for at in places:
        at = {"n": mp.mpf(5), **at}
        if not agree(found.conditions, at):
            continue
        a = numbers(rows, at)
        try:
            there = numbers(found.entries, at, True)
        except NoValue:
            return f"WRONG no value of {method} at {shown(at)}"
        gap = there * there - a if wanted is None else there - wanted(a)
        if largest(gap) > 1e-20 * max(1, largest(there), largest(a)):
            return f"WRONG {method} at {shown(at)}"
    return "solved"


def letters_generic(conditions, at):
    """Whether a condition failed that is about letters at all (numbers that no planted root meets)."""
    return bool(at) and any(holds(read(str(c)), at, True) is False for c in conditions)


def spectrum(m, rows, values, places, given):
    found = limited(lambda: m.eigenvalues(given=given))
    if found is None:
        return "open"
    if sum(found.values()) != len(rows):
        return f"WRONG {sum(found.values())} eigenvalues of {len(rows)}"
    pairs = limited(lambda: m.eigenvectors(given=given))
    for at in places:
        have = sorted(
            (complex(value(read(str(v)), at, True)) for v, times in found.items() for _ in range(times)),
            key=lambda z: (round(z.real, 9), round(z.imag, 9)),
        )
        want = sorted((complex(value(read(v), at)) for v in values), key=lambda z: (round(z.real, 9), round(z.imag, 9)))
        if any(abs(h - w) > 1e-9 for h, w in zip(have, want, strict=True)):
            return f"WRONG eigenvalues at {shown(at)}"
        if pairs is None or not agree(pairs.conditions, at):
            continue
        a = numbers(rows, at)
        for v, vectors in pairs:
            number = value(read(str(v)), at, True)
            columns = [numbers(u.entries, at, True) for u in vectors]
            if any(largest(a * u - number * u) > 1e-25 or largest(u) < 1e-25 for u in columns):
                return f"WRONG eigenvector of {v} at {shown(at)}"
            if len(columns) != a.cols - rank_of(a - number * mp.eye(a.cols)):
                return f"WRONG {len(columns)} eigenvectors of {v} at {shown(at)}"
    return "solved"

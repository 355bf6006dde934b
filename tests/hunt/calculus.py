"""Derivatives, integrals, limits, expansions, sums and transforms of random formulas, held against numbers."""

from __future__ import annotations

import re
from random import Random

import gelvo
from hunt.equations import shown, some
from hunt.formulas import complex_valued, facts_of, letters_of, line, points, rough, smooth
from hunt.oracle import DIVERGES, approaches, at_place, decaying_integral, grows, integral, settled, summed
from hunt.plain import NoValue, holds, losses_told, mp, read, value

SECONDS = 20
NONE = (gelvo.FormulaError, gelvo.NoClosedForm, gelvo.NotSolved, gelvo.Undecided, gelvo.DomainError)
FAULTS = (NoValue, ZeroDivisionError, ValueError, OverflowError)


def asked(operation, *arguments, **named):
    """(the answer as text without its comment, its conditions as trees, the answer); None where the library gives none."""
    with gelvo.time_limit(SECONDS):
        try:
            found = operation(*arguments, **named)
            verdict = getattr(found, "verdict", "proved")
        except NONE:
            return None
    if verdict == "refuted":
        raise ArithmeticError("the answer is refuted by its own check")
    text = str(getattr(found, "expression", found)).split("#")[0].strip()
    if "_of(" in text:
        return None
    return text, [read(str(c)) for c in getattr(found, "conditions", ())], found


def applies(conditions, at):
    return all(holds(c, at, True) for c in conditions)


def slope(work, v, times=1):
    """A derivative by central differences, told by two steps that agree; NoValue where they do not."""
    with mp.workdps(120):
        found = []
        for h in (mp.mpf(10) ** -30, mp.mpf(10) ** -31):
            if times == 1:
                found.append((work(v + h) - work(v - h)) / (2 * h))
            else:
                found.append((work(v + h) - 2 * work(v) + work(v - h)) / (h * h))
        if abs(found[0] - found[1]) > mp.mpf(10) ** -20 * (1 + abs(found[1])):
            raise NoValue
        return found[1]


def places(random, count=6, low=-4, high=4):
    return [mp.mpf(random.randint(17 * low, 17 * high)) / 17 + mp.mpf(1) / 101 for _ in range(count)]


def outcome_of(told):
    """What a row of "same", "unknown", "WRONG …" and earlier outcomes amounts to: the first wrong one, else whether anything was seen to agree."""
    seen = False
    for said in told:
        if said.startswith("WRONG"):
            return said
        seen = seen or said in ("same", "solved")
    return "solved" if seen else "open"


# --- derivatives --------------------------------------------------------------------------------------------------------------


def derivative_task(seed):
    """(formula, times)"""
    random = Random(seed)
    make = some(random, smooth, smooth, rough, rough, complex_valued)
    return make(random, "x", letters_of(random)), random.choice((1, 1, 1, 2))


def judge_derivative(task, seed):
    text, times = task
    found = asked(gelvo.differentiate, text, "x", times=times)
    return "open" if found is None else differs_from_slope(read(found[0]), read(text), [text], [], seed, times, bare=True)


def differs_from_slope(claimed, original, texts, given, seed, times=1, conditions=(), claims_real=False, bare=False):
    """Whether `claimed` is the derivative of `original` at random places (where it is real, if nothing is said of others).

    bare: whether it carries no conditions, so that it may lack a value for special letters.
    """
    random = Random(seed)
    seen = 0
    for special, at in enumerate(points(random, texts, given)):
        for v in places(random):
            if not applies(conditions, {**at, "x": v}):
                continue
            try:
                if claims_real and abs(mp.im(value(claimed, {**at, "x": v}, True))) > mp.mpf(10) ** -30:
                    continue
                numeric = slope(at_place(original, "x", at), v, times)
            except FAULTS:
                continue
            try:
                told = value(claimed, {**at, "x": v}, True)
            except FAULTS:
                if not numeric or (bare and special):
                    continue  # the slope of a root of a step: 0/0 beside the step
                return f"WRONG no value at x = {mp.nstr(v, 6)}, {shown(at)}, where it is {mp.nstr(numeric, 6)}"
            if abs(told - numeric) > mp.mpf(10) ** -12 * (1 + abs(numeric)):
                return f"WRONG {mp.nstr(told, 8)} for {mp.nstr(numeric, 8)} at x = {mp.nstr(v, 6)}, {shown(at)}"
            seen += 1
    return "solved" if seen else "open"


# --- integrals ----------------------------------------------------------------------------------------------------------------


def integrand(random, letters, kinds=(0, 0, 0, 1, 2, 3, 4)):
    """What people integrate: products of powers, exponentials and waves, rational functions, kinks, complex values."""
    kind = random.choice(kinds)
    u, v = line(random, "x", letters), line(random, "x", letters)
    if kind == 1:
        return rough(random, "x", letters, 1)
    if kind == 2:
        return complex_valued(random, "x", letters)
    if kind == 3:
        return smooth(random, "x", letters, 2)
    if kind == 4:
        return some(
            random, f"dirac_delta({u})*({smooth(random, 'x', letters, 1)})", f"heaviside({u})*exp(-x)", f"sign({u})*{v}", f"abs({u})*abs({v})",
            f"floor(x)*{u}", f"cases({u} when x > 1, otherwise {v})", f"atan(1/{u})", f"{u}/abs({v})", f"1/(1 + {some(random, 'sin', 'cos')}(x)^2)",
            f"1/({random.choice((2, 3))} + {some(random, 'sin', 'cos')}({some(random, 'x', '2*x', 'x/2')}))", f"exp(-abs({u}))", f"1/(1 + exp({u}))", f"sqrt({u}^2)",
        )  # fmt: skip
    return some(
        random, f"{u}*exp({v})", f"x^2*{some(random, 'sin', 'cos')}({u})", f"1/({u}*{v})", f"x/({u}^2 + 1)", f"1/sqrt({u})", f"ln({u})", f"x^{some(random, '2', '3', '(-1/2)', '(1/3)', '(-2/3)')}*{u}",
        f"exp(-{u}^2)", f"1/(x^2 + {some(random, '1', '4', 'x + 1', *(f'{n}^2' for n in letters))})", f"exp(-x)*{some(random, 'sin', 'cos')}({u})", "sqrt(4 - x^2)", "1/sqrt(1 - x^2)", "x*ln(x)",
        f"1/({u}*{v}*(x + 5))", f"tan({u})", f"1/({u}^2*{v})", f"x^3/({u}^2 + 2)", f"1/(x^2 - {some(random, '1', '4', '2')})", "ln(x)/x", f"{u}^{some(random, '2', '5', '(-3)', '(3/2)', *letters)}",
        f"1/(x*({u}))", "exp(-x)/sqrt(x)", f"sin({u})*cos({v})", "1/(x*sqrt(x^2 - 1))", "1/(x*ln(x))", f"sinh({u})", "x*atan(x)", f"sqrt(x^2 + {some(random, '1', '4', 'x')})",
    )  # fmt: skip


def antiderivative_task(seed):
    """(integrand, facts)"""
    random = Random(seed)
    text = integrand(random, letters_of(random), (0, 0, 0, 0, 1, 2, 3, 3, 4))
    return text, [*facts_of(random, text, share=0.3), *about_variable(random)]


def about_variable(random):
    """A fact about x now and then."""
    return [f"x {some(random, '> 0', '< 0', '> 1', '< -1', '!= 0', '>= 2', '> -1/2')}"] if random.random() < 0.3 else []


def judge_antiderivative(task, seed):
    text, given = task
    if "dirac" in text:
        return "open"
    found = asked(gelvo.integrate, text, "x", given=given)
    if found is None:
        return "open"
    own, given = told_apart("x", given)
    return differs_from_slope(read(text), read(found[0]), [text], given, seed, 1, [*found[1], *own], "1j" not in text)


def definite_task(seed):
    """(integrand, lower end, upper end, facts)"""
    random = Random(seed)
    letters = letters_of(random, 0.3)
    text = integrand(random, letters)
    low = some(random, "-2", "-1", "0", "0", "0", "1", "1/2", "-3", "-inf", "-pi", "2", *letters)
    high = some(random, "1", "2", "3", "inf", "inf", "pi", "2*pi", "0", "-1", "1/3", *letters)
    return text, low, high, facts_of(random, text, low, high, share=0.85)


def number(text, at):
    return mp.inf if text == "inf" else -mp.inf if text == "-inf" else mp.re(value(read(text), at))


def judge_definite(task, seed):
    text, low, high, given = task
    found = asked(gelvo.integrate, text, "x", low, high, given=given)
    if found is None:
        return "open"
    claimed, conditions, _ = found
    return outcome_of(
        same_integral(text, number(low, at), number(high, at), claimed, at)
        for at in points(Random(seed), [text, low, high], given, 2)
        if applies(conditions, at)
    )


def same_integral(text, low, high, claimed, at):
    """ "same", "unknown" or what is wrong with a claimed value."""
    if "dirac_delta" in text:
        return same_sifted(text, low, high, claimed, at)
    truth = integral(read(text), "x", low, high, at)
    return same_number(claimed, truth, at, f"the integral of {text} from {mp.nstr(low, 5)} to {mp.nstr(high, 5)}")


def same_sifted(text, low, high, claimed, at):
    """dirac_delta(m*x + c)*g: the value of g at the place over |m|."""
    match = re.match(r"dirac_delta\((.*?\))\)\*\((.*)\)$", text)
    if not match:
        return "unknown"
    argument, rest = read(match[1]), read(match[2])
    c = value(argument, {**at, "x": mp.mpf(0)})
    m = value(argument, {**at, "x": mp.mpf(1)}) - c
    if not m:
        return "unknown"
    place = -c / m
    if place in (low, high):
        return "unknown"
    inside = min(low, high) < place < max(low, high)
    try:
        truth = value(rest, {**at, "x": place}, True) / abs(m) * (1 if low < high else -1) if inside else mp.mpf(0)
    except FAULTS:
        return "unknown"
    return same_number(claimed, truth, at, text)


def same_number(claimed, truth, at, what):
    if truth is None:
        return "unknown"
    if claimed in ("inf", "-inf", "undefined"):
        return "same" if truth is DIVERGES else f"WRONG {claimed} for {mp.nstr(truth, 8)}: {what}, {shown(at)}"
    try:
        told = value(read(claimed), at, True)
    except FAULTS:
        told = None
    if truth is DIVERGES:
        return "unknown" if told is None else f"WRONG {mp.nstr(told, 8)} where it diverges: {what}, {shown(at)}"
    if told is None:
        return f"WRONG no value for {mp.nstr(truth, 8)}: {what}, {shown(at)}"
    if abs(told - truth) > mp.mpf(10) ** -7 * (1 + abs(truth)):
        return f"WRONG {mp.nstr(told, 8)} for {mp.nstr(truth, 8)}: {what}, {shown(at)}"
    return "same"


# --- limits and expansions ----------------------------------------------------------------------------------------------------

VANISHING = ("sin({0})", "{0}", "(exp({0}) - 1)", "ln(1 + {0})", "(1 - cos({0}))", "tan({0})", "{0}^2", "(sqrt(1 + {0}) - 1)", "atan({0})", "abs({0})", "sinh({0})", "sqrt({0}^2)")  # fmt: skip
GROWING = ("x", "x^2", "sqrt(x)", "exp(x)", "ln(x)", "exp(-x)", "1/x", "sin(x)", "cos(x)", "sqrt(x^2 + x)", "sqrt(x^2 + 1)", "atan(x)", "tanh(x)", "x*sin(1/x)", "(1 + 1/x)^x", "x^(1/x)", "floor(x)", "exp(1/x)", "2^x", "ln(1 + exp(x))", "cosh(x)", "x^x", "gamma(x)", "exp(x + 2j)", "sin(1j*x)", "(x + 1j)", "exp(1j*x)", "sqrt(-x)", "exp(2j)")  # fmt: skip


def limit_task(seed):
    """(formula, point, side, facts)"""
    random = Random(seed)
    letters = letters_of(random, 0.25)
    kind = random.random()
    if kind < 0.3:
        u = some(random, "x", "x", "2*x", *(f"{n}*x" for n in letters))
        small = [some(random, *VANISHING).format(u) for _ in range(4)]
        text = some(random, f"{small[0]}/{small[1]}", f"({small[0]} - {small[1]})/({small[2]}*{small[3]})", f"1/{small[0]} - 1/{small[1]}", f"(1 + {small[0]})^(1/{small[1]})", f"{small[0]}*ln(abs({small[1]}))", f"{small[0]}*sin(1/x)", f"atan({small[0]}/({small[1]}))")  # fmt: skip
        point, side = "0", some(random, None, None, "above", "below")
    elif kind < 0.75:
        big = [some(random, *GROWING) for _ in range(4)]
        scale = some(random, "", "2*", *(f"{n}*" for n in letters))
        text = some(random, f"{scale}{big[0]} - {big[1]}", f"{big[0]}/({big[1]} + {big[2]})", f"{scale}{big[0]}*{big[1]}", f"({big[0]} - {big[1]})*{big[2]}", f"({big[0]} + {big[1]})/({big[2]} + {big[3]})", f"ln({big[0]} + {big[1]})/ln({big[2]} + 2)", f"exp({scale}{big[0]} - {big[1]})", f"{big[0]} + {big[1]} - {big[2]}")  # fmt: skip
        point, side = some(random, "inf", "inf", "inf", "-inf"), None
    else:
        text = some(random, smooth, rough, complex_valued)(random, "x", letters)
        point, side = some(random, "0", "1", "-1", "2", "inf", "1/2"), some(random, None, "above", "below")
    if point.endswith("inf"):
        side = None
    return text, point, side, facts_of(random, text, share=0.7)


def judge_limit(task, seed):
    text, point, side, given = task
    found = asked(gelvo.limit, text, "x", point, side=side, given=given)
    if found is None:
        return "open"
    claimed, conditions, _ = found
    return outcome_of(
        same_limit(text, point, side, claimed, at)
        for at in points(Random(seed), [text, point], given, 2)
        if applies(conditions, at)
    )


def same_limit(text, point, side, claimed, at):
    place = number(point, at)
    rows = approaches(read(text), "x", place, side, at)
    ends = [settled(row) for row in rows]
    what = f"the limit of {text} at {point} {side or ''}, {shown(at)}"
    if claimed == "undefined":
        if None not in ends and all(abs(e - ends[0]) < mp.mpf(10) ** -6 * (1 + abs(e)) for e in ends):
            return f"WRONG undefined for {mp.nstr(ends[0], 8)}: {what}"
        return "same" if None not in ends else "unknown"
    if claimed in ("inf", "-inf"):
        if any(e is not None for e in ends):
            return f"WRONG {claimed} for {[e if e is None else mp.nstr(e, 8) for e in ends]}: {what}"
        if all(map(grows, rows)):
            right = all(
                mp.sign(mp.re(row[-1])) == (1 if claimed == "inf" else -1) and not abs(mp.im(row[-1])) > abs(row[-1]) / 2
                for row in rows
            )
            return "same" if right else f"WRONG sign of {claimed}: {what}"
        return "unknown"
    try:
        told = value(read(claimed), at, True)
    except FAULTS:
        told = None
        if at:
            return "unknown"  # a formula that has no value for these letters claims nothing of them
    for row, end in zip(rows, ends, strict=True):
        if grows(row):
            return f"WRONG {claimed} where it grows to {mp.nstr(row[-1], 5)}: {what}"
        if end is not None and (told is None or abs(told - end) > mp.mpf(10) ** -3 * (1 + abs(end))):
            return f"WRONG {claimed} for {mp.nstr(end, 8)}: {what}"
        if told is not None and None not in row[-4:] and min(abs(v - told) for v in row[-4:]) > mp.mpf("0.5") * (1 + abs(told)):
            gaps = [abs(v - told) for v in row[-4:]]
            if gaps[-1] > mp.mpf("0.95") * gaps[0]:
                return f"WRONG {claimed}, while the values stay away: {[mp.nstr(v, 5) for v in row[-4:]]}: {what}"
    return "same" if None not in ends else "unknown"


def told_apart(variable, given):
    """(the facts about the variable as trees, those about letters)."""
    own = [g for g in given if g.startswith(f"{variable} ")]
    return list(map(read, own)), [g for g in given if g not in own]


def series_task(seed):
    """(formula, about, through, facts)"""
    random = Random(seed)
    letters = letters_of(random, 0.3)
    if random.random() < 0.6:
        outer = some(
            random, "exp", "sin", "cos", "ln", "sqrt", "atan", "tan", "cosh", "1/", "tanh", "asin", "erf", "gamma", "besselj(0, ", "abs",
        )  # fmt: skip
        inner = some(
            random, "x", "1 + x", "x^2", "sin(x)", "2*x - x^2", "exp(x) - 1", "1 - x", "x + x^2", "sqrt(x)", "1/x", "cos(x)",
            *(f"{n}*x" for n in letters), *(f"{n} + x" for n in letters),
        )  # fmt: skip
        text = f"{outer}({inner})" if not outer.endswith(", ") else f"{outer}{inner})"
        text = some(random, text, f"{text}/x", f"{text}*{smooth(random, 'x', letters, 1)}", f"x/{text}")
    else:
        text = some(random, smooth, smooth, rough, complex_valued)(random, "x", letters)
    about = some(random, "0", "0", "0", "1", "-1", "2", *letters)
    return text, about, random.choice((2, 3, 4, 5)), facts_of(random, text, about, share=0.7)


def judge_series(task, seed):
    text, about, through, given = task
    found = asked(gelvo.series, text, "x", about=about, through=through, given=given)
    if found is None:
        return "open"
    kept, conditions, _ = found
    original, polynomial = read(text), read(kept)
    own, given = told_apart("x", given)
    over_complex = not re.search(r"\ba(sin|cos|tanh|cosh)\(", text)  # those have no value outside their real domain
    seen = 0
    for at in points(Random(seed), [text, about], given, 2):
        middle = value(read(about), at)
        for side in (1, -1):
            gaps = []
            with mp.workdps(250), losses_told():
                for k in (4, 8, 12):
                    here = {**at, "x": middle + side * mp.mpf(10) ** -k}
                    if not applies([*conditions, *own], here):
                        break
                    try:
                        gaps.append(abs(value(original, here, over_complex) - value(polynomial, here, True)))
                    except FAULTS:
                        break
            if len(gaps) < 3:
                continue
            if not all(g < mp.mpf(10) ** -180 for g in gaps) and any(
                b and a and mp.log10(a / b) / 4 < through + mp.mpf("0.02") for a, b in ((gaps[0], gaps[1]), (gaps[1], gaps[2])) if b > mp.mpf(10) ** -180
            ):  # fmt: skip
                orders = [
                    mp.nstr(mp.log10(a / b) / 4, 4) if a and b else "-" for a, b in ((gaps[0], gaps[1]), (gaps[1], gaps[2]))
                ]
                return f"WRONG the rest falls with powers {orders}, not above {through}, on side {side}, {shown(at)}"
            seen += 1
    return "solved" if seen else "open"


# --- sums ---------------------------------------------------------------------------------------------------------------------


def sum_task(seed):
    """(term, lower, upper, facts)"""
    random = Random(seed)
    letters = letters_of(random, 0.35)
    r = some(random, "2", "1/2", "-1/3", "3", "-1", "-2", *letters)
    term = some(
        random, "k", "k^2", "k*(k + 1)", f"({r})^k", f"k*({r})^k", f"({r})^k/factorial(k)", "1/(k*(k + 1))", "1/k^2", "1/k", "(-1)^k/k", f"1/(k + {random.randint(1, 4)})^2", "1/(k^2 + 1)", "k/(k + 1)",
        "sin(k)", f"cos({r}*k)", "binomial(n, k)", f"binomial(n, k)*({r})^k", "k*factorial(k)", "1/(2*k + 1)^2", "(-1)^k/(2*k + 1)", "1/(k^2 - 1)", "k^3 - 2*k", "1", "2*a", f"({r})^(2*k)", "ln(1 + 1/k)", "1/sqrt(k)", "1/k^4", "k^2/2^k",
        f"exp(-k)*{some(random, '1', 'k', 'cos(k)')}", "(-1)^k*k", "1/(k*(k + 2))", "1/factorial(k)", "x^k/factorial(k)", "1/(4*k^2 - 1)", "a + k", "a*k", *letters,
    )  # fmt: skip
    low = some(random, "0", "1", "1", "2", "3", "-2", *(("m",) if random.random() < 0.2 else ()))
    high = some(random, "n", "n", "inf", "inf", "5", "2*n", "n + 1", "0", "-1", "2")
    return term, low, high, facts_of(random, term, share=0.6)


def judge_sum(task, seed):
    term, low, high, given = task
    found = asked(gelvo.add_up, term, "k", low, high, given=given)
    if found is None:
        return "open"
    claimed, conditions, _ = found
    tree, what = read(term), f"the sum of {term} from {low} to {high}"

    def told():
        for at in points(Random(seed), [term], given, 2):
            for n in (2, 3, 6) if high != "inf" else (6,):
                here = {**at, "x": mp.mpf(7) / 5, "n": mp.mpf(n), "m": mp.mpf(1)}
                first, last = number(low, here), number(high, here)
                if last >= first - 1 and applies(conditions, here):
                    yield same_number(claimed, summed(tree, "k", first, last, here), here, what)

    return outcome_of(told())


# --- transforms ---------------------------------------------------------------------------------------------------------------


def laplace_task(seed):
    """(word, formula, facts)"""
    random = Random(seed)
    letters = letters_of(random, 0.4)
    a, b = (some(random, "1", "2", "3", "1/2", *letters) for _ in range(2))
    if random.random() < 0.45:
        factor = [some(random, f"exp(-{a}*t)", f"sin({a}*t)", f"cos({a}*t)", "t", "t^2", f"heaviside(t - {b})", "1", f"sinh({a}*t)", f"cosh({a}*t)", "sqrt(t)", f"sin({a}*t + {b})", f"exp({a}*t)", "heaviside(t - 1)*(t - 1)", f"abs(t - {b})") for _ in range(4)]  # fmt: skip
        text = some(
            random,
            factor[0],
            f"{factor[0]}*{factor[1]}",
            f"{factor[0]}*{factor[1]} - 2*{factor[2]}",
            f"{factor[0]}*{factor[1]}*{factor[2]}",
        )
        return "laplace", text, facts_of(random, text, share=0.8)
    if random.random() < 0.75:
        factors = (f"(s + {a})", f"(s - {b})", f"(s^2 + {a}^2)", f"(s^2 + 2*{a}*s + {b})", "s", "s^2", f"(s + {b})^2", f"(s^2 - {a})", f"({a}*s + 1)")  # fmt: skip
        factor = [some(random, *factors) for _ in range(3)]
        top = some(random, "1", "1", "s", "s + 1", "2*s - 1", a)
        delay = some(random, "", "", "", f"*exp(-{b}*s)", "*(1 - exp(-s))")
        text = f"({top})/({some(random, factor[0], f'{factor[0]}*{factor[1]}', f'{factor[0]}*{factor[1]}*{factor[2]}', f'{factor[0]}^2')}){delay}"
        return "inverse_laplace", text, facts_of(random, text, share=0.8)
    core = some(random, f"exp(-{a}*abs(t))", f"exp(-{a}*t^2)", f"heaviside(t)*exp(-{a}*t)", "heaviside(t + 1) - heaviside(t - 1)", "t*exp(-t^2)", f"heaviside(t)*t*exp(-{a}*t)", f"exp(-t^2)*cos({b}*t)", f"exp(-abs(t - {b}))", "exp(-abs(t))*sin(t)")  # fmt: skip
    return "fourier", core, facts_of(random, core, share=0.8)


def judge_laplace(task, seed):
    word, text, given = task
    source, target = ("s", "t") if word == "inverse_laplace" else ("t", "w_0" if word == "fourier" else "s")
    found = asked(getattr(gelvo, word), text, source, target, given=given)
    if found is None or "dirac_delta" in found[0]:
        return "open"
    claimed, conditions, _ = found
    _, given = told_apart(target, given)
    original, image = (text, claimed) if word != "inverse_laplace" else (claimed, text)
    if word == "fourier":
        name, low, kernel, places = "w_0", -mp.inf, "exp(-1j*w_0*t)", ("0.7", "-1.9")
    else:
        name, low, kernel, places = "s", mp.mpf(0), "exp(-s*t)", ("5.3", "7.9")
    heres = [
        {**at, name: mp.mpf(place)}
        for at in points(Random(seed), [text], given, 1)
        for place in places
        if applies(conditions, {**at, name: mp.mpf(place)})  # a region of convergence is one of them
    ]
    return outcome_of(
        same_number(image, decaying_integral(read(original), read(kernel), "t", low, here), here, f"{word} of {text}")
        for here in heres
    )


# --- steps by hand ------------------------------------------------------------------------------------------------------------


def by_hand_task(seed):
    """(operation, the definite integral, the factor or the substitution, integrand, ends)"""
    random = Random(seed)
    low, high = some(
        random, ("0", "1"), ("-1", "1"), ("0", "pi"), ("-2", "3"), ("1", "2"), ("1/2", "3"), ("0", "2"), ("1", "inf"), ("2", "0")
    )
    if random.random() < 0.5:
        factor = some(
            random, "x", "x^2", "ln(x)", "atan(x)", "sign(x)", "abs(x)", "atan(1/x)", "floor(x)", "exp(x)", "heaviside(x - 1)",
            "asin(x/4)", "1/x", "tan(x)", "sqrt(x)",
        )  # fmt: skip
        rest = some(random, "exp(-x)", "sin(x)", "1", "x", "1/x^2", "cos(2*x)", "x^3", "1/(x - 1)^2", "sqrt(x + 3)")
        return "by_parts", f"integral_of(({factor})*({rest}), x, {low}, {high})", factor, f"({factor})*({rest})", (low, high)
    text = some(
        random, "1/(1 + x^2)", "x*exp(-x^2)", "1/(2 + cos(x))", "sqrt(4 + x)", "x/(1 + x^4)", "exp(-x)", "1/(1 + sin(x)^2)", "x^3",
        "cos(x)*sin(x)", "1/(x + 4)", "abs(x)", "x^2/(1 + x^6)",
    )  # fmt: skip
    rule = some(random, "u = x^2", "u = 1/x", "u = tan(x)", "u = tan(x/2)", "u = exp(x)", "u = x + 1", "u = x^3", "x = tan(u)", "x = sin(u)", "x = u^2", "x = exp(u)", "u = sin(x)", "u = 2*x - 1", "u = cos(x)", "x = 2*u + 1", "u = sqrt(x + 4)", "x = 1/u", "u = abs(x)", "u = floor(x)")  # fmt: skip
    return "change_variable", f"integral_of({text}, x, {low}, {high})", rule, text, (low, high)


def judge_by_hand(task, seed):
    word, form, choice, text, (low, high) = task
    named = {"differentiate": choice} if word == "by_parts" else {}
    with gelvo.time_limit(SECONDS):
        try:
            found = getattr(gelvo, word)(form, *([] if named else [choice]), **named)
        except NONE:
            return "open"
    if "dirac" in str(found.expression) or "derivative_of" in str(found.expression):
        return "open"
    truth = integral(read(text), "x", number(low, {}), number(high, {}), {})
    told = same_number(str(found.expression).split("#")[0], truth, {}, f"{form} by {choice}")
    if "no value" in told:  # the integral that is left may be one that numbers cannot tell
        return "open"
    return outcome_of([told])

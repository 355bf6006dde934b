"""Signs of sines and cosines, and of sums with them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable

from gmpy2 import mpq

from gelvo.expression import known as bits
from gelvo.expression.building import call, constant, number, power, scale, total
from gelvo.expression.nodes import Call, Expression, Name, Number, Power, Sum
from gelvo.expression.terms import factors_in
from gelvo.expression.traversal import contains, fresh_name, has_call, postorder, substitute, zeros_in
from gelvo.facts.knowledge import Knowledge
from gelvo.forms.collecting import power_table
from gelvo.forms.expanding import expand
from gelvo.functions.named import COS, SIN, TAN, is_a
from gelvo.numbers.exact import Gaussian, real

QUARTER: dict[str, mpq] = {SIN: mpq(0), COS: mpq(-1, 2)}  # where, in half turns, a half wave above zero begins
MOST_WAVES = 6  # with factors that are no numbers: each doubles the work


def of_wave(facts: Knowledge, node: Call) -> int:
    """The sign of a sine or cosine whose angle the facts keep within a half turn."""
    x = node.arguments[0]
    between = bool(zeros_in(x))  # such a root lies between its ends
    if not between and not any(isinstance(n, Name) and n in facts.summed for n in postorder(x)):
        return bits.ANY
    if node in facts.busy:  # the sign of the angle is asked for, which a fact compares with this wave
        return bits.ANY
    facts.busy.add(node)
    try:
        return _on_half_turns(x, QUARTER[node.name], facts.decide if between else facts.known)
    finally:
        facts.busy.discard(node)


def _on_half_turns(x: Expression, start: mpq, sign_of: Callable[[Expression], int]) -> int:
    pi = constant("pi")
    for k in range(-3, 5):
        below = sign_of(x - pi * (start + k))
        if bits.is_nonnegative(below):
            above = sign_of(pi * (start + k + 1) - x)
            if bits.is_nonnegative(above):
                open_ends = bits.is_positive(below) and bits.is_positive(above)
                if k % 2:
                    return bits.NEGATIVE if open_ends else bits.NONPOSITIVE
                return bits.POSITIVE if open_ends else bits.NONNEGATIVE
    return bits.ANY


def of_quotient(facts: Knowledge, node: Call) -> int:
    """The sign of a tangent or cotangent, from those of sine and cosine where the one below is not zero."""
    parts = [facts.known(call(word, node.arguments[0])) for word in (SIN, COS)]
    if not bits.is_nonzero(parts[1 if node.name == TAN else 0]):
        return bits.ANY
    return bits.product_known(parts) | bits.FRACTIONAL


def between_ends(facts: Knowledge, expression: Sum) -> int:
    """a + b*cos(u) has one sign where both a - b and a + b have it, whatever the sign of b; numbers times waves go all at once."""
    waves = [
        n
        for n in postorder(expression)
        if isinstance(n, Call) and n.name in QUARTER and bits.is_real(facts.known(n.arguments[0]))
    ]
    own = dict(expression.items())
    within = Counter(n for t in own for n in postorder(t) if isinstance(n, Call))
    plain = {w: own[w] for w in waves if w in own and within[w] == 1}
    if plain and not any(isinstance(c, Gaussian) for c in plain.values()):
        rest = expression - total(scale(w, c) for w, c in plain.items())
        word = _between(facts, rest, number(sum(abs(real(c)) for c in plain.values())))
        return _strictly(facts, word, number(1), next(iter(plain))) if len(plain) == 1 else word
    for node in waves if len(waves) <= MOST_WAVES else ():
        table = power_table(expression, node)
        if set(table) != {number(0), number(1)}:
            continue
        rest, slope = total(table[number(0)]), total(table[number(1)])
        if not has_call(slope, QUARTER):
            return _strictly(facts, _between(facts, rest, slope), slope, node)
    return bits.ANY


STRICT = {bits.NONNEGATIVE: bits.POSITIVE, bits.NONPOSITIVE: bits.NEGATIVE}


def _strictly(facts: Knowledge, word: int, slope: Expression, wave: Call) -> int:
    """Not zero where the wave stays below 1 and has a weight: x^2 - 2*a*x*cos(t) + a^2 with 0 < t < pi."""
    if word not in STRICT:
        return word
    other = call(COS if is_a(wave, SIN) else SIN, wave.arguments[0])
    inside = bits.is_nonzero(facts.decide(other)) and bits.is_nonzero(facts.decide(slope))
    return STRICT[word] if inside else word


def between_squares(facts: Knowledge, expression: Sum) -> int:
    """a^2*cos(u)^2 + b^2*sin(u)^2 has one sign where both a^2 and b^2 have it, and so has what is linear in such squares."""
    squares = dict.fromkeys(g for g in postorder(expression) if isinstance(g, Power) and _is_square_of_wave(g))
    for square in squares if len(squares) <= MOST_WAVES else ():
        wave = square.base
        assert isinstance(wave, Call)
        angle = wave.arguments[0]
        if not bits.is_real(facts.known(angle)):
            continue
        mark = fresh_name("c", expression)
        one, other = power(call(COS, angle), number(2)), power(call(SIN, angle), number(2))
        inside = substitute(expression, {one: mark, other: 1 - mark})
        if contains(inside, call(COS, angle)) or contains(inside, call(SIN, angle)):
            continue
        table = power_table(expand(inside), mark)
        if not set(table) <= {number(0), number(1)} or number(1) not in table:
            continue
        start, slope = total(table.get(number(0), [])), total(table[number(1)])
        word = _of_ends(facts, start, start + slope)
        if word != bits.ANY:
            return word
    return bits.ANY


def _between(facts: Knowledge, rest: Expression, slope: Expression) -> int:
    """What is known of rest + slope*w for a w between -1 and 1."""
    return _of_ends(facts, *[total((rest, scale(slope, mpq(sign)))) for sign in (1, -1)])


def _of_ends(facts: Knowledge, one: Expression, other: Expression) -> int:
    """What is known of all between two values."""
    ends = [facts.decide(e) for e in (one, other)]
    words = (bits.POSITIVE, bits.NEGATIVE, bits.NONNEGATIVE, bits.NONPOSITIVE)
    return next((word for word in words if not any(end & ~word for end in ends)), bits.ANY)


def by_circle(facts: Knowledge, expression: Sum) -> int:
    """1 - sin(x)^2 is cos(x)^2, and 1 - k*sin(x)^2 is (1 - k) + k*cos(x)^2; and the other way round."""
    for term, c in expression.items():
        squares = [g for g in factors_in(term) if isinstance(g, Power) and _is_square_of_wave(g)]
        if len(squares) != 1:
            continue
        weight = scale(term / squares[0], c)
        if isinstance(weight, Number):
            inner = squares[0].base
            assert isinstance(inner, Call)
            other = call(COS if is_a(inner, SIN) else SIN, inner.arguments[0])
            return facts.known(total((expression, scale(term, -c), weight, -weight * power(other, number(2)))))
        rest, beside = facts.decide(total((expression, scale(term, -c), weight))), facts.decide(-weight)
        if bits.is_nonnegative(rest) and bits.is_nonnegative(beside):
            return bits.POSITIVE if bits.is_positive(rest) else bits.NONNEGATIVE
        if bits.is_nonpositive(rest) and bits.is_nonpositive(beside):
            return bits.NEGATIVE if bits.is_negative(rest) else bits.NONPOSITIVE
    return bits.ANY


def _is_square_of_wave(g: Power) -> bool:
    return g.exponent is number(2) and isinstance(g.base, Call) and g.base.name in QUARTER

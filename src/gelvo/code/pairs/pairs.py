"""Arithmetic of pairs in NumPy: parts of this file are written into generated modules as they stand."""

import numpy


def pair_of(high, low):
    low = numpy.where(numpy.isfinite(low), low, 0.0)
    rounded = high + low
    return rounded, numpy.where(numpy.isfinite(rounded), low - (rounded - high), 0.0)


def pair_added(a, b):
    high = a + b
    back = high - a
    low = (a - (high - back)) + (b - back)
    return high, numpy.where(numpy.isfinite(low), low, 0.0)


def pair_lost(a, b, high):
    left, right = 134217729.0 * a, 134217729.0 * b
    left, right = left - (left - a), right - (right - b)
    rest, other = a - left, b - right
    return ((left * right - high) + left * other + rest * right) + rest * other


def sum_of_products(a, b, c, d):
    first, second = a * b, c * d
    large, lost = pair_added(first, second)
    small, rest = pair_added(pair_lost(a, b, first), pair_lost(c, d, second))
    value = (large + small) + (lost + rest)
    return numpy.where(numpy.isfinite(value), value, large)


def pair_multiplied(a, b):
    high = a * b
    low = pair_lost(a, b, high)
    return high, numpy.where(numpy.isfinite(low), low, 0.0)


def pair_sum(a, b):
    large, small = pair_added(a[0], b[0]), pair_added(a[1], b[1])
    first = pair_of(large[0], numpy.where(numpy.isfinite(large[0]), large[1] + small[0], 0.0))
    return pair_of(first[0], first[1] + small[1])


def pair_product(a, b):
    high = a[0] * b[0]
    low = pair_lost(a[0], b[0], high) + (a[0] * b[1] + a[1] * b[0])
    return pair_of(high, numpy.where(numpy.isfinite(low), low, 0.0))


def pair_scaled(factor, a):
    return factor * a[0], factor * a[1]


def pair_divided(a, b):
    high = a / b
    back = pair_multiplied(high, b)
    low = ((a - back[0]) - back[1]) / b
    return high, numpy.where(numpy.isfinite(low), low, 0.0)


def pair_small(low):
    return numpy.where(numpy.abs(low) < 1e-8, low, 0.0)


def pair_grown(value, lost):
    return value * (1.0 + numpy.where(numpy.isfinite(lost), lost, 0.0))


def pair_ratio(a, b):
    first = a[0] / b[0]
    rest = pair_sum(a, pair_product((-first, 0.0), b))
    second = rest[0] / b[0]
    rest = pair_sum(rest, pair_product((-second, 0.0), b))
    result = pair_sum(pair_of(first, numpy.where(numpy.isfinite(second), second, 0.0)), (rest[0] / b[0], 0.0))
    sound = numpy.isfinite(first) & numpy.isfinite(result[0])
    return numpy.where(sound, result[0], first), numpy.where(sound, result[1], 0.0)


def pair_root(a):
    high = numpy.sqrt(a[0])
    rest = pair_sum(a, pair_product((-high, 0.0), (high, 0.0)))
    low = rest[0] / (2.0 * high)
    return pair_of(high, numpy.where(numpy.isfinite(low), low, 0.0))


def pair_exp(a):
    turns = numpy.rint(a[0] * 1.4426950408889634)
    turns = numpy.where(numpy.isfinite(turns), numpy.minimum(numpy.maximum(turns, -1100.0), 1100.0), 0.0)
    rest = pair_sum(a, pair_product((-turns, 0.0), (0.6931471805599453, 2.3190468138462996e-17)))
    rest = 0.00390625 * rest[0], 0.00390625 * rest[1]
    last = 1.0
    for k in range(9, 5, -1):
        last = 1.0 + rest[0] / k * last
    total = last, 0.0
    for k in range(5, 1, -1):
        total = pair_sum((1.0, 0.0), pair_product(pair_product(rest, pair_divided(1.0, float(k))), total))
    total = pair_product(rest, total)
    for _ in range(8):
        total = pair_sum(pair_product(total, total), (2.0 * total[0], 2.0 * total[1]))
    total = pair_sum((1.0, 0.0), total)
    half = numpy.rint(turns / 2.0)
    scale, other = numpy.exp2(half), numpy.exp2(turns - half)
    plain = numpy.exp(a[0])
    sound = numpy.isfinite(plain) & (plain > 1e-290)
    return numpy.where(sound, total[0] * scale * other, plain), numpy.where(sound, total[1] * scale * other, 0.0)


def pair_log(a):
    first = numpy.log(a[0])
    rest = pair_sum(pair_product(a, pair_exp((-first, 0.0))), (-1.0, 0.0))
    result = pair_sum(pair_of(first, rest[0]), (-0.5 * rest[0] * rest[0] + rest[1], 0.0))
    sound = numpy.isfinite(first) & numpy.isfinite(result[0])
    return numpy.where(sound, result[0], first), numpy.where(sound, result[1], 0.0)


def pair_quarter(a, turns):
    minus = -turns, 0.0
    first = pair_sum(a, pair_product(minus, (1.5707963267948966, 0.0)))
    second = pair_sum(first, pair_product(minus, (6.123233995736766e-17, 0.0)))
    return pair_sum(second, pair_product(minus, (-1.4973849048591833e-33, 5.562271104316826e-50)))


def pair_series(a, odd):
    square = pair_product(a, a)
    last = 1.0
    for k in range(26 + odd, 19, -2):
        last = 1.0 - square[0] / (k * (k - 1)) * last
    total = last, 0.0
    for k in range(18 + odd, 1, -2):
        total = pair_sum((1.0, 0.0), pair_product(pair_product(square, pair_divided(-1.0, float(k * (k - 1)))), total))
    return pair_product(a, total) if odd else total


def pair_sin(a):
    turns = numpy.rint(a[0] * 0.6366197723675814)
    rest = pair_quarter(a, turns)
    phase = turns - 4.0 * numpy.floor(turns / 4.0)
    value = pair_choice(phase % 2.0 == 0.0, pair_series(rest, 1), pair_series(rest, 0))
    sign = numpy.where(phase < 2.0, 1.0, -1.0)
    small = numpy.abs(turns) < 1e12
    far = pair_of(numpy.sin(a[0]) * numpy.cos(a[1]), numpy.cos(a[0]) * numpy.sin(a[1]))
    return numpy.where(small, sign * value[0], far[0]), numpy.where(small, sign * value[1], far[1])


def pair_cos(a):
    turns = numpy.rint(a[0] * 0.6366197723675814)
    rest = pair_quarter(a, turns)
    phase = turns - 4.0 * numpy.floor(turns / 4.0)
    value = pair_choice(phase % 2.0 == 0.0, pair_series(rest, 0), pair_series(rest, 1))
    sign = numpy.where((phase == 0.0) | (phase == 3.0), 1.0, -1.0)
    small = numpy.abs(turns) < 1e12
    far = pair_of(numpy.cos(a[0]) * numpy.cos(a[1]), -numpy.sin(a[0]) * numpy.sin(a[1]))
    return numpy.where(small, sign * value[0], far[0]), numpy.where(small, sign * value[1], far[1])


def pair_angle(y, x):
    start = numpy.arctan2(y[0], x[0]), 0.0
    sine, cosine = pair_sin(start), pair_cos(start)
    top = pair_sum(pair_product(y, cosine), pair_product((-1.0, 0.0), pair_product(x, sine)))
    bottom = pair_sum(pair_product(x, cosine), pair_product(y, sine))
    rest = pair_ratio(top, bottom)
    return pair_choice(numpy.isfinite(rest[0]), pair_sum(start, rest), start)


def pair_choice(holds, a, b):
    return numpy.where(holds, a[0], b[0]), numpy.where(holds, a[1], b[1])

typedef struct {
    double high, low;
} pair;

static pair pair_of(double high, double low)
{
    const double rest = isfinite(low) ? low : 0.0, rounded = high + rest;
    const pair result = {rounded, isfinite(rounded) ? rest - (rounded - high) : 0.0};
    return result;
}

static pair pair_added(double a, double b)
{
    const double high = a + b, back = high - a, low = (a - (high - back)) + (b - back);
    const pair result = {high, isfinite(low) ? low : 0.0};
    return result;
}

static double sum_of_products(double a, double b, double c, double d)
{
    const double second = c*d, lost = fma(c, d, -second);
    return fma(a, b, second) + (isfinite(lost) ? lost : 0.0);
}

static pair pair_multiplied(double a, double b)
{
    const double high = a*b, low = fma(a, b, -high);
    const pair result = {high, isfinite(low) ? low : 0.0};
    return result;
}

static pair pair_sum(pair a, pair b)
{
    const pair large = pair_added(a.high, b.high), small = pair_added(a.low, b.low);
    const pair first = pair_of(large.high, isfinite(large.high) ? large.low + small.high : 0.0);
    return pair_of(first.high, first.low + small.low);
}

static pair pair_product(pair a, pair b)
{
    const double high = a.high*b.high;
    const double low = fma(a.high, b.high, -high) + (a.high*b.low + a.low*b.high);
    return pair_of(high, isfinite(low) ? low : 0.0);
}

static pair pair_scaled(double factor, pair a)
{
    const pair result = {factor*a.high, factor*a.low};
    return result;
}

static pair pair_divided(double a, double b)
{
    const double high = a/b;
    const pair back = pair_multiplied(high, b);
    const double low = ((a - back.high) - back.low)/b;
    const pair result = {high, isfinite(low) ? low : 0.0};
    return result;
}

static double pair_small(double low)
{
    return fabs(low) < 1e-8 ? low : 0.0;
}

static double pair_grown(double value, double lost)
{
    return value*(1.0 + (isfinite(lost) ? lost : 0.0));
}

static pair pair_ratio(pair a, pair b)
{
    const double first = a.high/b.high;
    const pair rest = pair_sum(a, pair_product(pair_of(-first, 0.0), b));
    const double second = rest.high/b.high;
    const pair last = pair_sum(rest, pair_product(pair_of(-second, 0.0), b));
    const pair result = pair_sum(pair_of(first, isfinite(second) ? second : 0.0), pair_of(last.high/b.high, 0.0));
    return isfinite(first) && isfinite(result.high) ? result : pair_of(first, 0.0);
}

static pair pair_root(pair a)
{
    const double high = sqrt(a.high);
    const pair rest = pair_sum(a, pair_product(pair_of(-high, 0.0), pair_of(high, 0.0)));
    const double low = rest.high/(2.0*high);
    return pair_of(high, isfinite(low) ? low : 0.0);
}

static pair pair_exp(pair a)
{
    const double plain = exp(a.high);
    if (!(isfinite(plain) && plain > 1e-290))
        return pair_of(plain, 0.0);
    const double turns = nearbyint(a.high*1.4426950408889634);
    const pair ln2 = {0.6931471805599453, 2.3190468138462996e-17}, one = {1.0, 0.0};
    const pair near_zero = pair_sum(a, pair_product(pair_of(-turns, 0.0), ln2));
    const pair rest = pair_of(near_zero.high/256.0, near_zero.low/256.0);
    double last = 1.0;
    int k;
    for (k = 9; k > 5; k--)
        last = 1.0 + rest.high/(double)k*last;
    pair total = pair_of(last, 0.0);
    for (; k > 1; k--)
        total = pair_sum(one, pair_product(pair_product(rest, pair_divided(1.0, (double)k)), total));
    total = pair_product(rest, total);
    for (k = 0; k < 8; k++)
        total = pair_sum(pair_product(total, total), pair_of(2.0*total.high, 2.0*total.low));
    total = pair_sum(one, total);
    return pair_of(ldexp(total.high, (int)turns), ldexp(total.low, (int)turns));
}

static pair pair_log(pair a)
{
    const double first = log(a.high);
    const pair rest = pair_sum(pair_product(a, pair_exp(pair_of(-first, 0.0))), pair_of(-1.0, 0.0));
    const pair result = pair_sum(pair_of(first, rest.high), pair_of(-0.5*rest.high*rest.high + rest.low, 0.0));
    return isfinite(first) && isfinite(result.high) ? result : pair_of(first, 0.0);
}

static pair pair_quarter(pair a, double turns)
{
    const pair first = pair_sum(a, pair_product(pair_of(-turns, 0.0), pair_of(1.5707963267948966, 0.0)));
    const pair second = pair_sum(first, pair_product(pair_of(-turns, 0.0), pair_of(6.123233995736766e-17, 0.0)));
    return pair_sum(second, pair_product(pair_of(-turns, 0.0), pair_of(-1.4973849048591833e-33, 5.562271104316826e-50)));
}

static pair pair_series(pair a, int odd)
{
    const pair square = pair_product(a, a), one = {1.0, 0.0};
    double last = 1.0;
    int k;
    for (k = 26 + odd; k > 19; k -= 2)
        last = 1.0 - square.high/((double)k*(double)(k - 1))*last;
    pair total = pair_of(last, 0.0);
    for (; k > 1; k -= 2)
        total = pair_sum(one, pair_product(pair_product(square, pair_divided(-1.0, (double)k*(double)(k - 1))), total));
    return odd ? pair_product(a, total) : total;
}

static pair pair_sin(pair a)
{
    const double turns = nearbyint(a.high*0.6366197723675814);
    if (!(fabs(turns) < 1e12))
        return pair_of(sin(a.high)*cos(a.low), cos(a.high)*sin(a.low));
    const int phase = (int)(turns - 4.0*floor(turns/4.0));
    const pair value = pair_series(pair_quarter(a, turns), phase % 2 == 0);
    return phase < 2 ? value : pair_of(-value.high, -value.low);
}

static pair pair_cos(pair a)
{
    const double turns = nearbyint(a.high*0.6366197723675814);
    if (!(fabs(turns) < 1e12))
        return pair_of(cos(a.high)*cos(a.low), -sin(a.high)*sin(a.low));
    const int phase = (int)(turns - 4.0*floor(turns/4.0));
    const pair value = pair_series(pair_quarter(a, turns), phase % 2);
    return phase == 0 || phase == 3 ? value : pair_of(-value.high, -value.low);
}

static pair pair_angle(pair y, pair x)
{
    const double first = atan2(y.high, x.high);
    const pair start = {first, 0.0}, sine = pair_sin(start), cosine = pair_cos(start), minus = {-1.0, 0.0};
    const pair top = pair_sum(pair_product(y, cosine), pair_product(minus, pair_product(x, sine)));
    const pair bottom = pair_sum(pair_product(x, cosine), pair_product(y, sine));
    const pair rest = pair_ratio(top, bottom);
    return isfinite(rest.high) ? pair_sum(start, rest) : start;
}

static pair pair_choice(int holds, pair a, pair b)
{
    return holds ? a : b;
}

function pair_of(high, low) {
  const rest = Number.isFinite(low) ? low : 0.0, rounded = high + rest;
  return {high: rounded, low: Number.isFinite(rounded) ? rest - (rounded - high) : 0.0};
}

function pair_added(a, b) {
  const high = a + b, back = high - a, low = (a - (high - back)) + (b - back);
  return {high, low: Number.isFinite(low) ? low : 0.0};
}

function pair_lost(a, b, high) {
  const large = 134217729.0*a, wide = 134217729.0*b;
  const left = large - (large - a), right = wide - (wide - b), rest = a - left, other = b - right;
  return ((left*right - high) + left*other + rest*right) + rest*other;
}

function sum_of_products(a, b, c, d) {
  const first = a*b, second = c*d, large = pair_added(first, second);
  const small = pair_added(pair_lost(a, b, first), pair_lost(c, d, second));
  const value = (large.high + small.high) + (large.low + small.low);
  return Number.isFinite(value) ? value : large.high;
}

function pair_multiplied(a, b) {
  const high = a*b, low = pair_lost(a, b, high);
  return {high, low: Number.isFinite(low) ? low : 0.0};
}

function pair_sum(a, b) {
  const large = pair_added(a.high, b.high), small = pair_added(a.low, b.low);
  const first = pair_of(large.high, Number.isFinite(large.high) ? large.low + small.high : 0.0);
  return pair_of(first.high, first.low + small.low);
}

function pair_product(a, b) {
  const high = a.high*b.high, low = pair_lost(a.high, b.high, high) + (a.high*b.low + a.low*b.high);
  return pair_of(high, Number.isFinite(low) ? low : 0.0);
}

function pair_scaled(factor, a) {
  return {high: factor*a.high, low: factor*a.low};
}

function pair_divided(a, b) {
  const high = a/b, back = pair_multiplied(high, b), low = ((a - back.high) - back.low)/b;
  return {high, low: Number.isFinite(low) ? low : 0.0};
}

function pair_small(low) {
  return Math.abs(low) < 1e-8 ? low : 0.0;
}

function pair_grown(value, lost) {
  return value*(1.0 + (Number.isFinite(lost) ? lost : 0.0));
}

function pair_ratio(a, b) {
  const first = a.high/b.high;
  const rest = pair_sum(a, pair_product(pair_of(-first, 0.0), b));
  const second = rest.high/b.high;
  const last = pair_sum(rest, pair_product(pair_of(-second, 0.0), b));
  const result = pair_sum(pair_of(first, Number.isFinite(second) ? second : 0.0), pair_of(last.high/b.high, 0.0));
  return Number.isFinite(first) && Number.isFinite(result.high) ? result : pair_of(first, 0.0);
}

function pair_root(a) {
  const high = Math.sqrt(a.high);
  const rest = pair_sum(a, pair_product(pair_of(-high, 0.0), pair_of(high, 0.0)));
  const low = rest.high/(2.0*high);
  return pair_of(high, Number.isFinite(low) ? low : 0.0);
}

function pair_exp(a) {
  const plain = Math.exp(a.high);
  if (!(Number.isFinite(plain) && plain > 1e-290)) return pair_of(plain, 0.0);
  const turns = Math.round(a.high*1.4426950408889634), half = Math.trunc(turns/2);
  const one = {high: 1.0, low: 0.0}, ln2 = {high: 0.6931471805599453, low: 2.3190468138462996e-17};
  const near_zero = pair_sum(a, pair_product(pair_of(-turns, 0.0), ln2));
  const rest = pair_of(near_zero.high/256.0, near_zero.low/256.0);
  let last = 1.0, k = 9;
  for (; k > 5; k--) last = 1.0 + rest.high/k*last;
  let total = pair_of(last, 0.0);
  for (; k > 1; k--) total = pair_sum(one, pair_product(pair_product(rest, pair_divided(1.0, k)), total));
  total = pair_product(rest, total);
  for (k = 0; k < 8; k++) total = pair_sum(pair_product(total, total), pair_of(2.0*total.high, 2.0*total.low));
  total = pair_sum(one, total);
  const scale = 2**half, other = 2**(turns - half);
  return pair_of(total.high*scale*other, total.low*scale*other);
}

function pair_log(a) {
  const first = Math.log(a.high);
  const rest = pair_sum(pair_product(a, pair_exp(pair_of(-first, 0.0))), pair_of(-1.0, 0.0));
  const result = pair_sum(pair_of(first, rest.high), pair_of(-0.5*rest.high*rest.high + rest.low, 0.0));
  return Number.isFinite(first) && Number.isFinite(result.high) ? result : pair_of(first, 0.0);
}

function pair_quarter(a, turns) {
  const first = pair_sum(a, pair_product(pair_of(-turns, 0.0), pair_of(1.5707963267948966, 0.0)));
  const second = pair_sum(first, pair_product(pair_of(-turns, 0.0), pair_of(6.123233995736766e-17, 0.0)));
  return pair_sum(second, pair_product(pair_of(-turns, 0.0), pair_of(-1.4973849048591833e-33, 5.562271104316826e-50)));
}

function pair_series(a, odd) {
  const square = pair_product(a, a), one = {high: 1.0, low: 0.0};
  let last = 1.0, k = 26 + odd;
  for (; k > 19; k -= 2) last = 1.0 - square.high/(k*(k - 1))*last;
  let total = pair_of(last, 0.0);
  for (; k > 1; k -= 2)
    total = pair_sum(one, pair_product(pair_product(square, pair_divided(-1.0, k*(k - 1))), total));
  return odd ? pair_product(a, total) : total;
}

function pair_sin(a) {
  const turns = Math.round(a.high*0.6366197723675814);
  if (!(Math.abs(turns) < 1e12)) return pair_of(Math.sin(a.high)*Math.cos(a.low), Math.cos(a.high)*Math.sin(a.low));
  const phase = turns - 4.0*Math.floor(turns/4.0);
  const value = pair_series(pair_quarter(a, turns), phase % 2 === 0 ? 1 : 0);
  return phase < 2 ? value : pair_of(-value.high, -value.low);
}

function pair_cos(a) {
  const turns = Math.round(a.high*0.6366197723675814);
  if (!(Math.abs(turns) < 1e12)) return pair_of(Math.cos(a.high)*Math.cos(a.low), -Math.sin(a.high)*Math.sin(a.low));
  const phase = turns - 4.0*Math.floor(turns/4.0);
  const value = pair_series(pair_quarter(a, turns), phase % 2);
  return phase === 0 || phase === 3 ? value : pair_of(-value.high, -value.low);
}

function pair_angle(y, x) {
  const start = {high: Math.atan2(y.high, x.high), low: 0.0}, sine = pair_sin(start), cosine = pair_cos(start);
  const top = pair_sum(pair_product(y, cosine), pair_product({high: -1.0, low: 0.0}, pair_product(x, sine)));
  const bottom = pair_sum(pair_product(x, cosine), pair_product(y, sine));
  const rest = pair_ratio(top, bottom);
  return Number.isFinite(rest.high) ? pair_sum(start, rest) : start;
}

function pair_choice(holds, a, b) {
  return holds ? a : b;
}

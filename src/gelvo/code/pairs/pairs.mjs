function pair_of(high, low) {
  const rest = Number.isFinite(low) ? low : 0.0, rounded = high + rest;
  return {high: rounded, low: Number.isFinite(rounded) ? rest - (rounded - high) : 0.0};
}

function pair_sum(a, b) {
  const high = a.high + b.high, back = high - a.high;
  const low = (a.high - (high - back)) + (b.high - back);
  const rest = a.low + b.low, other = rest - a.low;
  const last = (a.low - (rest - other)) + (b.low - other);
  const first = pair_of(high, Number.isFinite(high) ? low + rest : 0.0);
  return pair_of(first.high, first.low + (Number.isFinite(last) ? last : 0.0));
}

function pair_product(a, b) {
  const high = a.high*b.high, large = 134217729.0*a.high, wide = 134217729.0*b.high;
  const left = large - (large - a.high), right = wide - (wide - b.high);
  const rest = a.high - left, other = b.high - right;
  const low = ((left*right - high) + left*other + rest*right) + rest*other + (a.high*b.low + a.low*b.high);
  return pair_of(high, Number.isFinite(low) ? low : 0.0);
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
  let total = one;
  for (let k = 9; k > 1; k--) total = pair_sum(one, pair_product(pair_ratio(rest, pair_of(k, 0.0)), total));
  total = pair_product(rest, total);
  for (let k = 0; k < 8; k++) total = pair_sum(pair_product(total, total), pair_of(2.0*total.high, 2.0*total.low));
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

function pair_choice(holds, a, b) {
  return holds ? a : b;
}

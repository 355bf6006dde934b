  pure function pair_of(high, low) result(value)
    real(wp), intent(in) :: high, low
    type(pair) :: value
    value = pair(high, 0.0_wp)
    if (.not. abs(low) <= huge(low)) return
    value%high = high + low
    if (abs(value%high) <= huge(high)) value%low = low - (value%high - high)
  end function pair_of

  pure function pair_sum(a, b) result(value)
    type(pair), intent(in) :: a, b
    type(pair) :: value
    real(wp) :: high, back, low, rest, last
    high = a%high + b%high
    back = high - a%high
    low = (a%high - (high - back)) + (b%high - back)
    rest = a%low + b%low
    back = rest - a%low
    last = (a%low - (rest - back)) + (b%low - back)
    if (.not. abs(high) <= huge(high)) low = 0.0_wp
    if (.not. abs(last) <= huge(high)) last = 0.0_wp
    value = pair_of(high, low + rest)
    value = pair_of(value%high, value%low + last)
  end function pair_sum

  pure function pair_product(a, b) result(value)
    type(pair), intent(in) :: a, b
    type(pair) :: value
    real(wp) :: high, left, right, rest, other, low
    high = a%high*b%high
    left = 134217729.0_wp*a%high
    left = left - (left - a%high)
    right = 134217729.0_wp*b%high
    right = right - (right - b%high)
    rest = a%high - left
    other = b%high - right
    low = ((left*right - high) + left*other + rest*right) + rest*other + (a%high*b%low + a%low*b%high)
    if (.not. abs(low) <= huge(low)) low = 0.0_wp
    value = pair_of(high, low)
  end function pair_product

  pure function pair_ratio(a, b) result(value)
    type(pair), intent(in) :: a, b
    type(pair) :: value, rest
    real(wp) :: first, second
    first = a%high/b%high
    rest = pair_sum(a, pair_product(pair_of(-first, 0.0_wp), b))
    second = rest%high/b%high
    rest = pair_sum(rest, pair_product(pair_of(-second, 0.0_wp), b))
    if (.not. abs(second) <= huge(second)) second = 0.0_wp
    value = pair_sum(pair_of(first, second), pair_of(rest%high/b%high, 0.0_wp))
    if (.not. abs(value%high) <= huge(first)) value = pair_of(first, 0.0_wp)
  end function pair_ratio

  pure function pair_root(a) result(value)
    type(pair), intent(in) :: a
    type(pair) :: value, rest
    real(wp) :: high, low
    high = sqrt(a%high)
    rest = pair_sum(a, pair_product(pair_of(-high, 0.0_wp), pair_of(high, 0.0_wp)))
    low = rest%high/(2.0_wp*high)
    if (.not. abs(low) <= huge(low)) low = 0.0_wp
    value = pair_of(high, low)
  end function pair_root

  pure function pair_exp(a) result(value)
    type(pair), intent(in) :: a
    type(pair) :: value, rest
    real(wp) :: plain, turns
    integer :: k
    plain = exp(a%high)
    value = pair_of(plain, 0.0_wp)
    if (.not. (plain <= huge(plain) .and. plain > 1e-290_wp)) return
    turns = anint(a%high*1.4426950408889634_wp)
    rest = pair_sum(a, pair_product(pair_of(-turns, 0.0_wp), pair(0.6931471805599453_wp, 2.3190468138462996e-17_wp)))
    rest = pair(rest%high/256.0_wp, rest%low/256.0_wp)
    value = pair(1.0_wp, 0.0_wp)
    do k = 9, 2, -1
      value = pair_sum(pair(1.0_wp, 0.0_wp), pair_product(pair_ratio(rest, pair(real(k, wp), 0.0_wp)), value))
    end do
    value = pair_product(rest, value)
    do k = 1, 8
      value = pair_sum(pair_product(value, value), pair(2.0_wp*value%high, 2.0_wp*value%low))
    end do
    value = pair_sum(pair(1.0_wp, 0.0_wp), value)
    value = pair(scale(value%high, int(turns)), scale(value%low, int(turns)))
  end function pair_exp

  pure function pair_log(a) result(value)
    type(pair), intent(in) :: a
    type(pair) :: value, rest
    real(wp) :: first
    first = log(a%high)
    rest = pair_sum(pair_product(a, pair_exp(pair_of(-first, 0.0_wp))), pair_of(-1.0_wp, 0.0_wp))
    value = pair_sum(pair_of(first, rest%high), pair_of(-0.5_wp*rest%high*rest%high + rest%low, 0.0_wp))
    if (.not. abs(value%high) <= huge(first)) value = pair_of(first, 0.0_wp)
  end function pair_log

  pure function pair_choice(holds, a, b) result(value)
    logical, intent(in) :: holds
    type(pair), intent(in) :: a, b
    type(pair) :: value
    value = b
    if (holds) value = a
  end function pair_choice

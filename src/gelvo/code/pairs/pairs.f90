  pure function pair_of(high, low) result(value)
    real(wp), intent(in) :: high, low
    type(pair) :: value
    value = pair(high, 0.0_wp)
    if (.not. abs(low) <= huge(low)) return
    value%high = high + low
    if (abs(value%high) <= huge(high)) value%low = low - (value%high - high)
  end function pair_of

  pure function pair_added(a, b) result(value)
    real(wp), intent(in) :: a, b
    type(pair) :: value
    real(wp) :: high, back, low
    high = a + b
    back = high - a
    low = (a - (high - back)) + (b - back)
    if (.not. abs(low) <= huge(low)) low = 0.0_wp
    value = pair(high, low)
  end function pair_added

  pure function pair_lost(a, b, high) result(value)
    real(wp), intent(in) :: a, b, high
    real(wp) :: value, left, right, rest, other
    left = 134217729.0_wp*a
    left = left - (left - a)
    right = 134217729.0_wp*b
    right = right - (right - b)
    rest = a - left
    other = b - right
    value = ((left*right - high) + left*other + rest*right) + rest*other
  end function pair_lost

  pure function sum_of_products(a, b, c, d) result(value)
    real(wp), intent(in) :: a, b, c, d
    real(wp) :: value, first, second
    type(pair) :: large, small
    first = a*b
    second = c*d
    large = pair_added(first, second)
    small = pair_added(pair_lost(a, b, first), pair_lost(c, d, second))
    value = (large%high + small%high) + (large%low + small%low)
    if (.not. abs(value) <= huge(value)) value = large%high
  end function sum_of_products

  pure function pair_multiplied(a, b) result(value)
    real(wp), intent(in) :: a, b
    type(pair) :: value
    real(wp) :: high, low
    high = a*b
    low = pair_lost(a, b, high)
    if (.not. abs(low) <= huge(low)) low = 0.0_wp
    value = pair(high, low)
  end function pair_multiplied

  pure function pair_sum(a, b) result(value)
    type(pair), intent(in) :: a, b
    type(pair) :: value, large, small
    large = pair_added(a%high, b%high)
    small = pair_added(a%low, b%low)
    value = pair(large%high, 0.0_wp)
    if (abs(large%high) <= huge(large%high)) value = pair_of(large%high, large%low + small%high)
    value = pair_of(value%high, value%low + small%low)
  end function pair_sum

  pure function pair_product(a, b) result(value)
    type(pair), intent(in) :: a, b
    type(pair) :: value
    real(wp) :: high, low
    high = a%high*b%high
    low = pair_lost(a%high, b%high, high) + (a%high*b%low + a%low*b%high)
    if (.not. abs(low) <= huge(low)) low = 0.0_wp
    value = pair_of(high, low)
  end function pair_product

  pure function pair_scaled(factor, a) result(value)
    real(wp), intent(in) :: factor
    type(pair), intent(in) :: a
    type(pair) :: value
    value = pair(factor*a%high, factor*a%low)
  end function pair_scaled

  pure function pair_divided(a, b) result(value)
    real(wp), intent(in) :: a, b
    type(pair) :: value, back
    real(wp) :: high, low
    high = a/b
    back = pair_multiplied(high, b)
    low = ((a - back%high) - back%low)/b
    if (.not. abs(low) <= huge(low)) low = 0.0_wp
    value = pair(high, low)
  end function pair_divided

  pure function pair_small(low) result(value)
    real(wp), intent(in) :: low
    real(wp) :: value
    value = 0.0_wp
    if (abs(low) < 1e-8_wp) value = low
  end function pair_small

  pure function pair_grown(value, lost) result(grown)
    real(wp), intent(in) :: value, lost
    real(wp) :: grown
    grown = value
    if (abs(lost) <= huge(lost)) grown = value*(1.0_wp + lost)
  end function pair_grown

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
    real(wp) :: plain, turns, last
    integer :: k
    plain = exp(a%high)
    value = pair_of(plain, 0.0_wp)
    if (.not. (plain <= huge(plain) .and. plain > 1e-290_wp)) return
    turns = anint(a%high*1.4426950408889634_wp)
    rest = pair_sum(a, pair_product(pair_of(-turns, 0.0_wp), pair(0.6931471805599453_wp, 2.3190468138462996e-17_wp)))
    rest = pair(rest%high/256.0_wp, rest%low/256.0_wp)
    last = 1.0_wp
    do k = 9, 6, -1
      last = 1.0_wp + rest%high/real(k, wp)*last
    end do
    value = pair(last, 0.0_wp)
    do k = 5, 2, -1
      value = pair_sum(pair(1.0_wp, 0.0_wp), &
        pair_product(pair_product(rest, pair_divided(1.0_wp, real(k, wp))), value))
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

  pure function pair_quarter(a, turns) result(value)
    type(pair), intent(in) :: a
    real(wp), intent(in) :: turns
    type(pair) :: value
    value = pair_sum(a, pair_product(pair_of(-turns, 0.0_wp), pair_of(1.5707963267948966_wp, 0.0_wp)))
    value = pair_sum(value, pair_product(pair_of(-turns, 0.0_wp), pair_of(6.123233995736766e-17_wp, 0.0_wp)))
    value = pair_sum(value, pair_product(pair_of(-turns, 0.0_wp), pair_of(-1.4973849048591833e-33_wp, 5.562271104316826e-50_wp)))
  end function pair_quarter

  pure function pair_series(a, odd) result(value)
    type(pair), intent(in) :: a
    integer, intent(in) :: odd
    type(pair) :: value, square
    real(wp) :: last
    integer :: k
    square = pair_product(a, a)
    last = 1.0_wp
    do k = 26 + odd, 20 + odd, -2
      last = 1.0_wp - square%high/(real(k, wp)*real(k - 1, wp))*last
    end do
    value = pair_of(last, 0.0_wp)
    do k = 18 + odd, 2, -2
      value = pair_sum(pair_of(1.0_wp, 0.0_wp), &
        pair_product(pair_product(square, pair_divided(-1.0_wp, real(k, wp)*real(k - 1, wp))), value))
    end do
    if (odd == 1) value = pair_product(a, value)
  end function pair_series

  pure function pair_sin(a) result(value)
    type(pair), intent(in) :: a
    type(pair) :: value
    real(wp) :: turns
    integer :: phase
    value = pair_of(sin(a%high)*cos(a%low), cos(a%high)*sin(a%low))
    turns = anint(a%high*0.6366197723675814_wp)
    if (.not. abs(turns) < 1e12_wp) return
    phase = int(modulo(turns, 4.0_wp))
    value = pair_series(pair_quarter(a, turns), 1 - modulo(phase, 2))
    if (phase >= 2) value = pair(-value%high, -value%low)
  end function pair_sin

  pure function pair_cos(a) result(value)
    type(pair), intent(in) :: a
    type(pair) :: value
    real(wp) :: turns
    integer :: phase
    value = pair_of(cos(a%high)*cos(a%low), -sin(a%high)*sin(a%low))
    turns = anint(a%high*0.6366197723675814_wp)
    if (.not. abs(turns) < 1e12_wp) return
    phase = int(modulo(turns, 4.0_wp))
    value = pair_series(pair_quarter(a, turns), modulo(phase, 2))
    if (phase == 1 .or. phase == 2) value = pair(-value%high, -value%low)
  end function pair_cos

  pure function pair_angle(y, x) result(value)
    type(pair), intent(in) :: y, x
    type(pair) :: value, sine, cosine, rest
    value = pair_of(atan2(y%high, x%high), 0.0_wp)
    sine = pair_sin(value)
    cosine = pair_cos(value)
    rest = pair_sum(pair_product(y, cosine), pair_product(pair_of(-1.0_wp, 0.0_wp), pair_product(x, sine)))
    rest = pair_ratio(rest, pair_sum(pair_product(x, cosine), pair_product(y, sine)))
    if (abs(rest%high) <= huge(rest%high)) value = pair_sum(value, rest)
  end function pair_angle

  pure function pair_choice(holds, a, b) result(value)
    logical, intent(in) :: holds
    type(pair), intent(in) :: a, b
    type(pair) :: value
    value = b
    if (holds) value = a
  end function pair_choice

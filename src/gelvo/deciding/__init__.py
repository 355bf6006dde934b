"""Is a formula zero, constant, an algebraic number? Proved, disproved, or left open."""

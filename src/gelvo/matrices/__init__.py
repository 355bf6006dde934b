"""Exact linear algebra: matrices are containers of expressions, not parts of sums or products."""

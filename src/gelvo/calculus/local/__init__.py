"""Local expansions: what a formula is like near a place, term by term."""

"""Solutions of z'' = r*z by integrals, exponentials and roots, or the proof that there are none."""

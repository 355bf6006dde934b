"""Motions as modules for other programs: C with its own integrator, a module for SciPy, units of the Functional Mock-up Interface."""

"""Measured data: tables from CSV files and data frames, difference quotients, quadrature and interpolation on them."""

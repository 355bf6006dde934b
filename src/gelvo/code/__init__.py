"""Numeric code from formulas: straight-line programs, one file a target language, and the check of what was written."""

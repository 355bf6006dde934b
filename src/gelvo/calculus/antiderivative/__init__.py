"""Antiderivatives: one file a method; `search` tries them in order."""

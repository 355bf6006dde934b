"""Integrals as a teacher works them: one file a kind of step; `teacher` tries them in order."""

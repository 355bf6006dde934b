"""Differential equations and inequalities: what stands on solving and on calculus."""

"""Mechanics, systems, motion, tensors and elements, built on the public operations only."""

"""Equations for one unknown and for several, exactly, with their conditions."""

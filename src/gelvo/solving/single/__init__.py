"""One equation for one unknown: one file a kind of step."""

"""What the user calls: reads text arguments, applies facts, asks for the check, wraps the answer; no mathematics here."""

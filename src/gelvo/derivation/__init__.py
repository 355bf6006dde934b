"""The derivation language: its statements, the engine that carries them out, and the report."""

"""The engine: what it breathes and the work it makes of it."""

"""Leaks of the charge side: their size from a pressure test, and what they cost."""

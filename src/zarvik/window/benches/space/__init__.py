"""The Space bench."""

"""The Workshop bench."""

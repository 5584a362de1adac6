"""The Register bench."""

"""Sizes that can be bought."""

"""Typical values that stand in for what nobody knows."""

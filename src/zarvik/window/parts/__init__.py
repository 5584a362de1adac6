"""Widgets that the benches share."""

"""Valves: the wastegate as an orifice."""

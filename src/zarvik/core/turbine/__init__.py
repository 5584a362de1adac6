"""The turbine: what it swallows and how much of the expansion it turns into work."""

"""Charge pipes: intake, hot pipe, cooler, cold pipe, piece by piece."""

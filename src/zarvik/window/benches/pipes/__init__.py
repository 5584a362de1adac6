"""Charge pipes: intake, hot pipe, intercooler, cold pipe, piece by piece."""

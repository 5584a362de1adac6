"""Spool time from a closed throttle."""

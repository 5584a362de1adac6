"""Seconds from a closed throttle to boost."""

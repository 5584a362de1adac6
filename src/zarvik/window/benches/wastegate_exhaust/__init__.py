"""The Hot side bench."""

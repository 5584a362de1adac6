"""The Layout bench."""

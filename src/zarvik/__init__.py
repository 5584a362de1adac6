"""Zarvik: from a target to a turbo system that can be cut, welded, leak-tested and proved."""

__version__ = "0.1.0"

"""Manifolds of a document: primaries laid, types side by side."""

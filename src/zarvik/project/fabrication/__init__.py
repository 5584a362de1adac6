"""The cut list and the drawings of a document."""

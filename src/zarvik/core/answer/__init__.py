"""The solved and judged build as one answer, and its summary."""

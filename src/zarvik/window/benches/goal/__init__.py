"""Brief & engine: what is wanted, where, and from which engine."""

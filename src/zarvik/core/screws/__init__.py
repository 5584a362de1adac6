"""A run as a chain of screws: where its end goes when a piece of it changes."""

"""The intake of a document: what its runners do."""

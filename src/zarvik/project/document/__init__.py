"""The document: its parts, the metadata of its fields, places in it."""

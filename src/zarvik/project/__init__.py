"""The document: what the builder said, with units, history, validation and assembly."""

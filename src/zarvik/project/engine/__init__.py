"""The engine of a document: the settings of a diesel's pump."""

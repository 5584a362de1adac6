"""Edits of a document, each from one document to the next, and their history."""

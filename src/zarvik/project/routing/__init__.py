"""Runs of a document laid anew through its engine bay."""

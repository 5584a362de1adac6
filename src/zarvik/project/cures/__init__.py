"""Cures carried out as edits, and tried before they are offered."""

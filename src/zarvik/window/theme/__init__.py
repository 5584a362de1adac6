"""Colours, fonts and the style of the program's own look."""

"""Turbo: the compressor map, the full-load line on it, the candidates."""

"""Words of the program in another language, and text that somebody typed."""

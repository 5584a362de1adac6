"""How well things are known: doubts of entries, estimates for unknown ones, bands of answers."""

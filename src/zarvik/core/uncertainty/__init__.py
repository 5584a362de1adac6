"""How well things are known: uncertainties of entries, estimates for unknown ones, bands of answers."""

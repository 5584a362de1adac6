"""Metals: strength, expansion, corrosion."""

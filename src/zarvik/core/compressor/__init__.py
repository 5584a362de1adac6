"""Compressor maps: their data, the look-up both ways, a generator for invented ones."""

"""Ideal-gas mixtures: composition, caloric and transport properties, humidity, combustion."""

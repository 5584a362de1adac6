"""The pressure run: the height profile of the pressure along the path."""

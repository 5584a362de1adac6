"""Heat round the exhaust."""

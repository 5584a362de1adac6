"""The vehicle: what it tows, and how it gets up a hill."""

"""A first whole design from what is known."""

"""What the pieces are made of."""

"""What a build needs next."""

"""What stands in for entries that nobody knows."""

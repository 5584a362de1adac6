"""The page of the hill."""

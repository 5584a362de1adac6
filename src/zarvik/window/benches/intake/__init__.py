"""The intake parts."""

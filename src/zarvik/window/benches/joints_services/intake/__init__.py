"""The intake's page."""

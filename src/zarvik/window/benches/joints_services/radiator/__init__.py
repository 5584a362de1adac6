"""The radiator's page."""

"""The radiator and the heat that goes into its water."""

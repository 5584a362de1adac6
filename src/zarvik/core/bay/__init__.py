"""What stands in the engine bay, how far it is from the pipes, and what it stands."""

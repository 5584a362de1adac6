"""What stands in the engine bay of a document."""

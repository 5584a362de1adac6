"""From the document to the build: units turned, pieces put together."""

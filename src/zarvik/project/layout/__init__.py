"""Where the pieces of a document stand."""

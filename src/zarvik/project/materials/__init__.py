"""Materials of a document's pieces side by side."""

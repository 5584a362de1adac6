"""Hot parts of a document and what stands near them."""

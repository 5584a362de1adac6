"""What a document tows, up its hill."""

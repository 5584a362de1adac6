"""Bodies of simple shapes, hulls and scanned skins, and how far points are from them."""

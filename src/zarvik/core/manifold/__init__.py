"""The exhaust manifold as a structure: how long it lasts and what it weighs."""

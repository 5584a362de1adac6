"""How well the entries of a document are known, and what that does to the answers."""

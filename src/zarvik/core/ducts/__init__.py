"""The pressure-loss engine: pieces of a run, their loss coefficients, the march along them."""

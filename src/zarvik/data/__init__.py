"""Tables and catalogues that ship with the program; everything invented is marked so."""

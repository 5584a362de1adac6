"""Searching whole designs: a front of the best compromises over sizes that can be bought."""

"""Designs: a search over whole designs for what is asked, as a picture to take one from."""

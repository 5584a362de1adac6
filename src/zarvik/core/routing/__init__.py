"""Tubes from ends to ends through a bay: round what stands there, of bends that can be had, equal in length where they belong together."""

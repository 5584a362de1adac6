"""Candidates: every turbo that could be had, on this engine, at every stage; the choice and its reason."""

"""Pieces in space: frames, runs of straights and bends, their ends and volumes, the last piece that must fit."""

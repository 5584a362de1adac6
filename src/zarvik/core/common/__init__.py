"""What every subject uses: sentences with figures, progress, numerics, compilation, how well an input is known."""

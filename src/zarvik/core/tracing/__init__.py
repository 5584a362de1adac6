"""A printed picture turned into numbers: axes, curves that are followed, points in the axes' units."""

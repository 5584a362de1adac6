"""Reading and writing: the project file, compressor maps, results."""

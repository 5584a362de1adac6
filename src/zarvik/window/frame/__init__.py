"""The window's frame: header, build rail, check, and the place for the benches."""

"""The window's frame: header, build rail, verdict, and the place for the benches."""

"""Money, time and workshop of a build, and its bill."""

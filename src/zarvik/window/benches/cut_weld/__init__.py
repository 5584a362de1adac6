"""The Cut & weld bench."""

"""The Compare bench: named variants side by side."""

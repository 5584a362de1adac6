"""Where good ends and where it fails."""

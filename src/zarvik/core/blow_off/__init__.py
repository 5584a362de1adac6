"""The blow-off valve, and what happens when the throttle shuts."""

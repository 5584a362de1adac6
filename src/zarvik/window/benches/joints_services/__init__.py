"""The Joints & services bench."""

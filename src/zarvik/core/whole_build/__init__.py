"""The whole build: the air path that is solved, and all that is only judged."""

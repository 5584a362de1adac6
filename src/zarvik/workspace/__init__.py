"""One open project: its history, background solving, journal and recovery. No widgets."""

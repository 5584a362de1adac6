"""Turbos side by side on one engine: compared, evaluated with their spool times, searched in a catalogue."""

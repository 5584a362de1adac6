"""Ports, joints, hoses and lines: ledger, lists, details."""

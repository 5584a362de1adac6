"""Ports, joints, hoses and lines of a document, and their lists."""

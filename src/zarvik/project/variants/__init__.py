"""Kept designs beside the present one."""

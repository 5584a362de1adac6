"""Ports, bungs, joints, hoses and lines: threads, forces, leaks, flows, and the rules for them."""

"""Oil, fuel, coolant and breather lines, and hoses that carry a pressure."""

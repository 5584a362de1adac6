"""The page of oil, fuel and breather."""

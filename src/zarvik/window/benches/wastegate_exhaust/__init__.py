"""The Wastegate & exhaust bench."""

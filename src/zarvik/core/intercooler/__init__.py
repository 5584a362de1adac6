"""Charge cooling: effectiveness of exchangers and the loss on the charge side."""

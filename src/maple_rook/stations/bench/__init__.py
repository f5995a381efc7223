"""Bench: measure one piece in order, with live checks."""

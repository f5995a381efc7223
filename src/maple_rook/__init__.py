"""Maple Rook: measure knives, keep the record, compare them on what they do on the board."""

__version__ = "0.2.0.dev0"

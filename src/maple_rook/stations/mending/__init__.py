"""Mending what the record says: names, models, makers, sheets, each with its history and undo."""

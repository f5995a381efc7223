"""Upkeep: set-ups, plans, the log, work orders, care."""

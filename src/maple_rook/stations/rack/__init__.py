"""Rack: see all knives as true-scale outlines; find, filter, pick."""

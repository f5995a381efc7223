"""Steels: grades, carbides, hardness bands and conversions."""

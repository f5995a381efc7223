"""Knives described for others, before any format: figures, words, numbers."""

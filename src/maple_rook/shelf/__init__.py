"""The searchable projection of every piece, and what is asked of it."""

"""Sheet: everything about one knife."""

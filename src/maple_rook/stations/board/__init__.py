"""Board: compare two to six knives."""

"""What the shop says of its knives to others, before any format: figures, words, numbers."""

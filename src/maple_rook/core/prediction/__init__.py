"""A blade with its inferred inputs, and every prediction with interval and grade."""

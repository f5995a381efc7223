"""Foods: what the shop cuts, and how each resists."""

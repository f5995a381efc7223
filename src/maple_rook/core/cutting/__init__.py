"""Foods, the force a blade needs for them, and how they let go of it."""

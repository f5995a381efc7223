"""Steel, wear and the course of sharpness: how long an edge lasts."""

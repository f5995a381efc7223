"""Office: what the shop sets for everybody."""

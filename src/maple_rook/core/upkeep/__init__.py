"""Tools, set-up, wear and re-profiling, plans, finish work and care."""

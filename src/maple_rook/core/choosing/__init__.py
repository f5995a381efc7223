"""A customer, what may be offered to them, and how knives differ: ranking, verdict, advice."""

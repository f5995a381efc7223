"""Knives laid side by side: what differs, what is predicted of it, and the verdict."""

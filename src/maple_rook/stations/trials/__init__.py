"""Trials: how edges lasted, and what that says of the predictions."""

"""Predict without a record: a blade in JSON in, every prediction out."""

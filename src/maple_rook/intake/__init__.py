"""Readings and traced edges into the record, from the Bench, a photo or a repair."""

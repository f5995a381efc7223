"""Instruments: what readings are taken with, when each is due, and what those on a line say."""

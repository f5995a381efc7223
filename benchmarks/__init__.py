"""Benchmarks: absolute figures and ratios taken in one run; nothing here is asserted by a test."""

"""Faces, sections, edges, outlines and profiles, and what a photo shows of them."""

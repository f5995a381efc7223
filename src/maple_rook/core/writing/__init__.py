"""Drafts of what is published of a knife: parts, live figures, points, disclosure."""

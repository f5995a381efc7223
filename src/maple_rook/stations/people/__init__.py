"""People: signing in, invitations, roles, keys, and who changed what."""

"""Tasks: what the shop works on in the background, how far it is, stopped and begun again."""

"""HTTP for every station: who is let in, what is refused and how, headers, counts and OpenAPI."""

"""HTTP for every station: authentication, policy, problems, headers, metrics and OpenAPI."""

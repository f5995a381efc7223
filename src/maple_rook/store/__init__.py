"""The record: tables, migrations and queries. Knows the core, nothing of requests."""

"""The places a person works, one folder each: routes, schemas and work (the use cases)."""

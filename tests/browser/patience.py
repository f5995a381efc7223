"""How long a browser test waits for what is to come: a loaded machine is slow, not wrong."""

PATIENCE_MS = 60_000

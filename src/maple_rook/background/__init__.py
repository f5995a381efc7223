"""The task queue and what runs on it, and what changed told to every process."""

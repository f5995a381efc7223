"""The measuring routine: what is asked when, what contradicts, and the script to read aloud."""

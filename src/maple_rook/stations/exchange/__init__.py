"""In and out: tables brought in, the record taken out, knives shown in public."""

"""Import and export: tables imported, the record exported, knives shown in public."""

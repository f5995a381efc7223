"""Maple Rook: measure knives, keep the record, compare them on what they do on the board."""

import os

# Workbooks from outside are read by the parser that refuses entities, whatever else is installed;
# openpyxl looks once, when it is first imported.
os.environ.setdefault("OPENPYXL_LXML", "False")

__version__ = "0.2.0.dev0"

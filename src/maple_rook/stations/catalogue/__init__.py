"""The closed lists of the trade."""

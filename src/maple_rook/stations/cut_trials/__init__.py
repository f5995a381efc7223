"""Cut trials: force against depth of several knives and foods, and what they say of the foods."""

"""What several stations say of a knife, a trial or a customer, and how it is chosen."""

"""Counter: a customer's habits in, a reasoned short list with cautions out."""

"""How a number came about: its formula, read from the code that computes it, and its source."""

"""On location: the card of a setup, light that differs, takes, and what remains."""

"""On location: what to do before pressing, and what to do when the light is not as planned."""

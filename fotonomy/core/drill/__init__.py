"""Practice: exercises made of parameters and a seed, graded by the same core that plans."""

"""Practice: exercises and lessons, what is known of each skill, and when it is due again."""

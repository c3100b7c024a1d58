"""Template tags of the bench."""

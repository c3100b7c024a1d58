"""Scripts of the pages where they compute, under node."""

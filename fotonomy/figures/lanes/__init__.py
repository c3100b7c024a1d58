"""One drawing for each lane of the bench."""

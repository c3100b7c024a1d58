"""Pages of the drill."""

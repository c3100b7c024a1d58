"""Pages of the kit."""

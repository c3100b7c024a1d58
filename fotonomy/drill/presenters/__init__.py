"""What the pages of the drill show."""

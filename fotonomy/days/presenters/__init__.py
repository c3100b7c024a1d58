"""What the pages of a day show."""

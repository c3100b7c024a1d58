"""The crew of a shoot: who is let in, by name or by a link, and who has what in hand."""

"""What was done against what was planned."""

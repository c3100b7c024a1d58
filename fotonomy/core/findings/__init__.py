"""What is wrong with a setup, why, by how much, and what would do."""

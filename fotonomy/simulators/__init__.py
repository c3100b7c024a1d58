"""Small simulated devices that stand in for real ones."""

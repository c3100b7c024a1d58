"""What pictures say: arrays in, numbers out."""

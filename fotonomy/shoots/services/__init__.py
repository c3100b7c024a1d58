"""One use case a function: make, copy, order, replace."""

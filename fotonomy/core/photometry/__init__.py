"""Stops and exposure values: light counted in powers of two."""

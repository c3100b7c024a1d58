"""Cameras, lenses, filters and accessories as frozen facts."""

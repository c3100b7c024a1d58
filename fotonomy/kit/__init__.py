"""Cameras, lenses, glass and profiles a person owns."""

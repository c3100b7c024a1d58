"""Shutter, cadence, and how the camera moves."""

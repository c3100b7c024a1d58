"""The light budget, the scales of settings, meters, ramps and daylight."""

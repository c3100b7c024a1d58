"""The days of a shoot: the hours of each, places, scenes, and what does not fit."""

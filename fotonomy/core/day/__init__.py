"""The day of a shoot: when each setup has its light, where it comes from, what does not fit."""

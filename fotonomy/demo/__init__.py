"""The demo scenario and its loader."""

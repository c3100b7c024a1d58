"""Fotonomy: planning location footage by the housekeeping of light."""

__version__ = "0.1.0"

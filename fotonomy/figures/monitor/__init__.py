"""Scopes and the stops view of the monitor stand-in."""

"""Figures of what was shot."""

"""Shoots, their setups, and the bench."""

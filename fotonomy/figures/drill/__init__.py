"""Drawings of the drill."""

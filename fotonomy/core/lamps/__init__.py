"""Lamps: how much light they bring to a subject, how soft it is, and how two of them balance."""

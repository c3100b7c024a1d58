"""Trials of what must not be lost: parallel edits, kills, hostile values, many clients."""

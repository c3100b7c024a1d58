"""Cadence and intervals played at true speed."""

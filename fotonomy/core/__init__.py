"""The rules of the job: pure functions and frozen dataclasses, no web, no clock, no files."""

"""Runs of single pictures: interval, burst, long exposure, their remotes, energy and clips."""

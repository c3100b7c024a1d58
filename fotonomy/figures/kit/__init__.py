"""Drawings of gear, curves and calibration."""

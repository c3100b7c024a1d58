"""Depth of field and the paths of stars on the sensor."""

"""The day drawn: its hours, and where the sun stands against the camera."""

"""How values are read and written: 1/50, 180°, f/4, ISO 640, ND8, 12.3 EV."""

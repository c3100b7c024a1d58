"""The one room that loads an ephemeris: positions of sun, moon and galactic centre."""

"""Where sun, moon and the galactic centre stand, over which horizon, and what light they give."""

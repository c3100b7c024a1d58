"""Plan to geometry to SVG: no models, no requests."""

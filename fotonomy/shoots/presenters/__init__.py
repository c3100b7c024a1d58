"""Plans made ready for templates."""

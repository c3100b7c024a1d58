"""What all pages use: base templates, styles and scripts, limits, long work, numbers, the log."""

"""Where tones land: signal levels, placement, noise, white balance, and the model scene."""

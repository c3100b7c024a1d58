"""What a person sent, applied to a setup."""

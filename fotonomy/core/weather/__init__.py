"""The weather of an hour, as far as a camera minds it."""

"""The kinds of exercise, by what they are about."""

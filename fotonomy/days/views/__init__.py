"""Pages of days, places and scenes: parse, call, render."""

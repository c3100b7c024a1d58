"""What goes to the edit: timelines, lists, sidecars and looks, each in a published format."""

"""The frozen input of a plan: one setup, its wishes and its readings."""

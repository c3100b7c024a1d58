"""The search for settings: what may move, what it costs, what is offered."""

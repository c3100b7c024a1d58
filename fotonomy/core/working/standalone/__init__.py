"""Numbers that belong to no setup's plan: those of the day, of the weather, of takes, on location.

Each is worked out of a few values that go with its address, so that its working needs nothing
else. A topic is all of a page's kind together.
"""

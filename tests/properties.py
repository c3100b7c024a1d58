"""How many examples a property is tried with: few at every push, more in `make test-long`.

Both are the same at every run (hypothesis derandomized), so that a check either holds or does not.
"""

import os

from hypothesis import settings

LONG = os.environ.get("FOTONOMY_LONG") == "1"
# The long run tries what a push tries, and six times as much beside it.
MORE = 6


def examples(push: int) -> settings:
    """The settings of a property that is tried with so many examples at a push."""
    return settings(max_examples=push * MORE if LONG else push, deadline=None)

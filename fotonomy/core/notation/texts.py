"""Which texts are kept: names, notes and reasons as people write them."""

import re

from fotonomy.core.errors import RuleError
from fotonomy.core.traced_numbers import CLOSE, MIDDLE, OPEN

# Signs of control but tab and new line, which no XML and not every database keeps; halves of a pair
# of surrogates, which no page shows; and the marks that make a number lead to its working.
_UNKEEPABLE = re.compile(
    f"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff\ufffe\uffff{OPEN}{MIDDLE}{CLOSE}]"
)


def unkeepable(text: str) -> str:
    """The first sign of a text that cannot be kept, as "U+E000"; empty where all can."""
    found = _UNKEEPABLE.search(text)
    return f"U+{ord(found[0]):04X}" if found else ""


def without_unkeepable(text: str) -> str:
    """The text without such signs: for what devices wrote, where nobody can type it anew."""
    return _UNKEEPABLE.sub("", text)


def kept_text(field: str, text: object, most: int) -> str:
    """A text as it is kept: its ends cut off, at most so many characters. Raises RuleError."""
    if not isinstance(text, str):
        raise RuleError(field, "is no text", text)
    if sign := unkeepable(text):
        raise RuleError(field, f"holds a sign that cannot be kept ({sign}): type it without", None)
    said = text.strip()
    if len(said) > most:
        raise RuleError(field, f"at most {most} characters; this has {len(said)}", None)
    return said

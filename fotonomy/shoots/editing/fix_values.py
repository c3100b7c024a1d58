"""Changes as the value of a button, and back: "iris=f/4;iso=800"."""

from collections.abc import Iterable, Iterator

from fotonomy.core.findings.fixes import Change

# Changes a press may hold: every setting, and what has to be freed for it.
MOST_CHANGES = 24
# Names of gear are the person's, and may hold what parts one change from the next.
_ESCAPES = (("%", "%25"), (";", "%3B"))


def press_of(changes: Iterable[Change]) -> str:
    """What a button sends for these changes."""
    return ";".join(f"{change.setting}={_escaped(change.text)}" for change in changes)


def changes_of(press: str) -> Iterator[tuple[str, str]]:
    """Fields and their texts of a press, in order; the inverse of press_of."""
    for part in press.split(";")[:MOST_CHANGES]:
        name, _, text = part.partition("=")
        for plain, escape in reversed(_ESCAPES):
            text = text.replace(escape, plain)
        yield name, text


def _escaped(text: str) -> str:
    for plain, escape in _ESCAPES:
        text = text.replace(plain, escape)
    return text

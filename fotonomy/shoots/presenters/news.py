"""What another window did to a setup since this one looked: said with a way to take it back."""

from collections.abc import Iterable
from copy import copy
from dataclasses import dataclass

from fotonomy.core.errors import RuleError
from fotonomy.core.parsing.table import by_name
from fotonomy.shoots.editing.apply import label_of
from fotonomy.shoots.field_paths import WHOLE, Snapshot, setting_of, with_values
from fotonomy.shoots.mapping import PLAIN_COLUMNS, snapshot, spec_of
from fotonomy.shoots.models import Change, Setup
from fotonomy.shoots.packed_kit import packed_kit


@dataclass(frozen=True, slots=True)
class News:
    """One change made elsewhere: what, from and to, who and when; its step where it can go back."""

    words: str
    step: int | None


def news_of(row: Setup, changes: Iterable[Change]) -> list[News]:
    """The changes of other windows that touch a setup, the newest of each step only.

    A step that this window took back or did again since is no news to it.
    """
    newest: dict[int, Change] = {}
    for change in changes:
        if _touches(change, row.pk):
            newest[change.of_id or change.pk] = change
    return [
        _news(row, step, change) for step, change in newest.items()
        if change.client != row.shoot.actor.client
    ]  # fmt: skip


def _touches(change: Change, setup: int) -> bool:
    return any(key == setup for key, *_ in change.fields)


def _news(row: Setup, step: int, change: Change) -> News:
    shoot = row.shoot
    paths = [path for key, path, _, _ in change.fields if key == row.pk]
    what = "This setup" if WHOLE in paths else label_of(paths)
    what, values = what[:1].upper() + what[1:], _values(row, change)
    own = shoot.actor.author
    who = "" if change.author is None or change.author == own else f" by {change.author}"
    did = "undone" if change.of_id and change.undone else "changed"
    hour = f"{change.at.astimezone(row.place.zone):%H:%M}"
    able = not change.undone and WHOLE not in paths
    return News(f"{what}: {values}{did} in another window{who} at {hour}.", step if able else None)


def _values(row: Setup, change: Change) -> str:
    """From which value to which, where one setting was changed and both can still be written."""
    own = [(path, was, now) for key, path, was, now in change.fields if key == row.pk]
    setting = by_name().get(setting_of(own[0][0])) if own else None
    if setting is None or len({setting_of(path) for path, *_ in own}) > 1:
        return ""
    present, kit = snapshot(row), packed_kit(row.shoot)
    try:
        both = [with_values(present, [(one[0], one[k]) for one in own]) for k in (1, 2)]
        texts = [setting.text(spec_of(_as(row, data), kit)) for data in both]
    except (RuleError, LookupError, TypeError):
        return ""
    return f"{texts[0] or 'nothing'} to {texts[1] or 'nothing'}, " if texts[0] != texts[1] else ""


def _as(row: Setup, data: Snapshot) -> Setup:
    """A row with other values in its columns, not saved."""
    other = copy(row)
    for name in PLAIN_COLUMNS:
        setattr(other, name, data[name])
    return other

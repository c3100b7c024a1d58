"""What another window did to a setup since this one looked: said with a way to take it back."""

from collections.abc import Iterable
from dataclasses import dataclass
from zoneinfo import ZoneInfo

from fotonomy.shoots.editing.apply import label_of
from fotonomy.shoots.field_paths import WHOLE
from fotonomy.shoots.models import Change, Shoot


@dataclass(frozen=True, slots=True)
class News:
    """One change made elsewhere: what, who and when, and its step where it can be taken back."""

    words: str
    step: int | None


def news_of(shoot: Shoot, setup: int, changes: Iterable[Change]) -> list[News]:
    """The changes of other windows that touch a setup, the newest of each step only.

    A step that this window took back or did again since is no news to it.
    """
    newest: dict[int, Change] = {}
    for change in changes:
        if _touches(change, setup):
            newest[change.of_id or change.pk] = change
    return [
        _news(shoot, setup, step, change) for step, change in newest.items()
        if change.client != shoot.actor.client
    ]  # fmt: skip


def _touches(change: Change, setup: int) -> bool:
    return any(key == setup for key, *_ in change.fields)


def _news(shoot: Shoot, setup: int, step: int, change: Change) -> News:
    paths = [path for key, path, _, _ in change.fields if key == setup]
    what = "This setup" if WHOLE in paths else label_of(paths)
    own = shoot.actor.author
    who = "" if change.author is None or change.author == own else f" by {change.author}"
    did = "undone" if change.of_id and change.undone else "changed"
    hour = f"{change.at.astimezone(ZoneInfo(shoot.time_zone)):%H:%M}"
    able = not change.undone and WHOLE not in paths
    return News(f"{what}: {did} in another window{who} at {hour}.", step if able else None)

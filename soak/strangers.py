"""The whole list of addresses, asked by somebody whose they are not."""

from dataclasses import dataclass
from typing import Any

from soak.person import Person

# What is everybody's own, or nobody's yet: the door, one's account, one's kit and lists.
OPEN_TO_ALL = frozenset({
    "home", "login", "logout", "token", "sign-up", "password_change", "enter-demo", "choose-theme",
    "shoot-list", "shoot-new", "shoot-import", "kit", "gear-new", "kit-export", "kit-import",
    "curves", "published", "account", "health", "take-along",
    "password_reset", "password_reset_done", "password_reset_confirm", "password_reset_complete",
    # On the way in there is nobody yet, and the second factor is one's own.
    "second-step", "second-factor",
    # Each has a history of their own: tests/web/test_kit_history.py.
    "kit-undo", "kit-redo",
    # Everybody's to read; a first hour of one's own: tests/web/test_first_hour.py.
    "guide", "words", "word", "field-worker", "manifest",
    # A link is its own key: tests/web/test_crew.py.
    "join",
    "start", "start-step", "start-empty", "take-demo",
    # Practice on invented scenes, and how numbers are worked out: of nobody, and one's own answers
    # (tests/web/test_drill.py, test_working.py).
    "drill", "drill-start", "drill-next", "drill-done", "drill-ahead", "drill-send", "drill-kind",
    "drill-exercise", "drill-look", "drill-picture", "drill-working", "drill-lesson",
    "drill-lesson-working", "loose", "topic",
})  # fmt: skip
# What is sent with a press: enough to change something, were it let through.
PRESS = {"iris": "f/8", "sure": "1", "to": "up", "name": "mine"}


@dataclass(frozen=True, slots=True)
class Foreign:
    """How many requests a stranger made, and the addresses that answered anything but no."""

    asked: int
    let_in: tuple[str, ...]


def named_patterns() -> list[Any]:
    """Every address of the program by its pattern, the staff's pages apart."""
    from django.urls import URLResolver, get_resolver

    found: list[Any] = []
    queue: list[Any] = list(get_resolver().url_patterns)
    while queue:
        item = queue.pop()
        if isinstance(item, URLResolver):
            # The staff's pages are tried on their own: tests/web/test_people.py.
            queue.extend([] if item.app_name == "admin" else item.url_patterns)
        else:
            found.append(item)
    return found


def owned() -> list[str]:
    """Names of the addresses that belong to somebody."""
    return sorted(p.name for p in named_patterns() if p.name not in OPEN_TO_ALL)


def address_of(name: str, row: Any) -> str:
    """An owned address for a setup of the demo and the gear of its owner."""
    from django.urls import reverse

    from fotonomy.kit.models import Body

    body = Body.objects.get(owner=row.shoot.owner, name="A-cam")
    outline = row.shoot.outlines.first()
    known = {"shoot_id": row.shoot_id, "setup_id": row.pk, "sort": "body", "gear_id": body.pk,
             "view": "zebras", "form": "csv", "which": "call-sheet", "day_id": row.day_id,
             "place_id": row.place_id, "part_id": row.place_id, "way": "undo",
             "take_id": 1, "link_id": 1, "which_id": 1, "take_uid": "no",
             "picture_id": 1, "name": "budget.error_stops", "kind": "how-many-stops",
             "level": 1, "seed": 1, "key": "day", "at": 0, "suffix": "otio",
             "outline_id": outline.pk if outline else 1}  # fmt: skip
    if name == "places-file":
        known["form"] = "gpx"
    if name == "crew-withdraw":
        known["sort"] = "link"
    if name.startswith("part-"):
        known["sort"] = "place"
    if name == "curve-export":
        known["gear_id"] = row.profile_id
    pattern = next(p for p in named_patterns() if p.name == name)
    return reverse(name, kwargs={k: known[k] for k in pattern.pattern.converters})


def foreign(address: str, row: Any) -> Foreign:
    """Ask every owned address at the real server, by GET and POST, as a new account."""
    from django.contrib.auth import get_user_model

    get_user_model().objects.create_user("stranger", password="quay-side-42")
    stranger = Person(address)
    stranger.get("/log-in/")
    stranger.post("/log-in/", {"username": "stranger", "password": "quay-side-42"})
    if stranger.get("/shoots/").status != 200:
        raise RuntimeError("the stranger did not get into an account of their own")
    let_in, asked = [], 0
    for name in owned():
        page = address_of(name, row)
        for status in (stranger.get(page).status, stranger.post(page, PRESS).status):
            asked += 1
            if status not in (404, 405):
                let_in.append(f"{page}: {status}")
    return Foreign(asked, tuple(let_in))

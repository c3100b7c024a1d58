"""A stored row that breaks a rule is shown as such, on every page of its shoot: never a 500."""

from collections.abc import Callable
from datetime import UTC, date, datetime
from typing import Any

import pytest
from django.db import DataError, connection, transaction
from django.urls import reverse

from fotonomy.field.models import Take, TakePicture
from fotonomy.shoots.models import (
    Change,
    Day,
    DayWeather,
    LightReading,
    Place,
    Scene,
    Setup,
    Shoot,
    Way,
)
from fotonomy.shoots.services.faults import faults_of
from soak.strangers import address_of, owned

LATE = datetime(9999, 12, 31, 23, 59, 59, tzinfo=UTC)
EARLY = datetime(1, 1, 1, tzinfo=UTC)
HALF = "\ud800"


def _put(model: type[Any], **values: Any) -> Callable[[Shoot], None]:
    """The first row of a model in a shoot, written past every rule."""

    def put(shoot: Shoot) -> None:
        of = "place__shoot" if model is LightReading else "shoot"
        key = model.objects.filter(**{of: shoot}).values_list("pk", flat=True).first()
        assert key is not None, model
        model.objects.filter(pk=key).update(**values)

    return put


def _json(model: type[Any], column: str, text: str) -> Callable[[Shoot], None]:
    """A column of JSON as text that Django itself would not write."""

    def put(shoot: Shoot) -> None:
        with connection.cursor() as cursor:
            cursor.execute(
                f"UPDATE {model._meta.db_table} SET {column} = %s WHERE shoot_id = %s",
                [text, shoot.pk],
            )

    return put


BROKEN = {
    "take late": _put(Take, at=LATE), "take early": _put(Take, at=EARLY),
    "take kept late": _put(Take, kept_at=LATE),
    "half a letter in a reason": _json(Take, "why", '["\\ud800"]'),
    "reasons that are none": _json(Take, "why", "7"),
    "a plan that is a list": _json(Take, "planned", "[1, 2]"),
    "settings that are numbers": _json(Take, "differed", '{"iris": 4}'),
    "a mark in a name": _put(Take, setup_name="\ue000/elsewhere\ue001x\ue002"),
    "a verdict of nobody": _put(Take, verdict="superb"),
    "a take without end": _put(Take, length_s=1e300),
    "a clock far off": _put(Take, clock_off_s=1e300),
    "a picture's notes": _json(TakePicture, "wrote", "[]"),
    "a picture's areas": _json(TakePicture, "marks", '"no"'),
    "a picture's rating": _put(TakePicture, rating=99),
    "a reading late": _put(LightReading, at=LATE),
    "a reading of no light": _put(LightReading, ev100=1e300),
    "a place off the earth": _put(Place, latitude_deg=400.0, longitude_deg=1e12),
    "a place in no zone": _put(Place, time_zone="Sea/Bottom"),
    "a place without height": _put(Place, height_m=1e300),
    "a horizon of words": _json(Place, "horizon", '[["a", "b"]]'),
    "a horizon that is none": _json(Place, "horizon", '{"a": 1}'),
    "light of its own": _put(Place, own_ev100=1e300),
    "no mains": _put(Place, mains_hz=0),
    "a day at the end": _put(Day, date=date(9999, 12, 31)),
    "a day at the beginning": _put(Day, date=date(1, 1, 1)),
    "a way without end": _put(Way, minutes=1e300),
    "a scene's title": _put(Scene, title="\x07"),
    "weather of words": _json(DayWeather, "hours", '{"a": {"at": "never"}}'),
    "weather that is none": _json(DayWeather, "hours", "[]"),
    "a log of nonsense": _json(Change, "fields", '[["take-1", "why", null, 3]]'),
}  # fmt: skip
# Rows that are no part of a shoot's pages of places; a log is no row anybody reads.
UNSAID = {"a log of nonsense"}
# The other half, in columns that the first breaks otherwise.
SECOND = {
    "take early", "half a letter in a reason", "a horizon that is none", "a day at the beginning",
    "weather that is none", "light of its own",
}  # fmt: skip
# What PostgreSQL itself does not store.
NOT_STORED = {"half a letter in a reason"} if connection.vendor == "postgresql" else set[str]()
# Work that takes seconds, and what only answers a press.
SLOW = {"field-ahead", "paper", "better-date", "shoot-export", "arrange"}


def pages_of(row: Setup) -> list[str]:
    """Every address of the shoot, with a take and a picture that are there."""
    take = Take.objects.filter(shoot=row.shoot).first()
    picture = TakePicture.objects.filter(shoot=row.shoot).first()
    assert take is not None
    assert picture is not None
    found = []
    for name in owned():
        address = address_of(name, row)
        if not address.startswith(f"/shoots/{row.shoot_id}/") or name in SLOW:
            continue
        found.append(address)
    found += [
        reverse("take-edit", args=[row.shoot_id, take.pk]),
        reverse("frame-levels", args=[row.shoot_id, picture.pk]),
    ]
    return found


def _sets(shoot: Shoot) -> None:
    """A row of each model to break."""
    if not DayWeather.objects.filter(shoot=shoot).exists():
        DayWeather.objects.create(shoot=shoot, place=shoot.main_place, day=shoot.first_day)
    if not Way.objects.filter(shoot=shoot).exists():
        start, end = list(shoot.places.all())[:2]
        Way.objects.create(shoot=shoot, start=start, end=end, minutes=5)


@pytest.mark.parametrize("kind", [kind for kind in BROKEN if kind not in UNSAID])
def test_a_broken_row_is_said(demo_client: Any, demo: Shoot, kind: str) -> None:
    _sets(demo)
    assert faults_of(demo) == []
    if kind in NOT_STORED:
        with pytest.raises(DataError), transaction.atomic():
            BROKEN[kind](demo)
        return
    BROKEN[kind](demo)
    said = faults_of(Shoot.objects.get(pk=demo.pk))
    assert len(said) >= 1
    assert "cannot be used" in said[0]
    assert "save it anew, or delete it" in said[0]


@pytest.mark.parametrize("second", [False, True])
def test_no_page_falls_over_broken_rows(demo_client: Any, demo: Shoot, second: bool) -> None:
    """Half of the kinds at once, no two of them in one column: each stands at its harmless value."""
    _sets(demo)
    row = demo.setups.get(code="5A")
    kinds = [kind for kind in BROKEN if (kind in SECOND) == second and kind not in NOT_STORED]
    for kind in kinds:
        BROKEN[kind](demo)
    demo_client.raise_request_exception = False
    wrong = {
        address: answer.status_code
        for address in pages_of(row)
        if (answer := demo_client.get(address)).status_code >= 500
    }
    assert not wrong
    said = faults_of(Shoot.objects.get(pk=demo.pk))
    page = demo_client.get(reverse("places", args=[demo.pk])).content.decode()
    assert page.count("cannot be used") == len(said) >= 3
    takes = reverse("field-remains", args=[demo.pk, demo.first_day.pk])
    assert "cannot be used" in demo_client.get(takes).content.decode()

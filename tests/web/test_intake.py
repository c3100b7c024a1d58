"""One door for what comes in from the spot: the form and the phone are told the same."""

import json
import uuid
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.urls import reverse
from django.utils import timezone

from fotonomy.field import intake
from fotonomy.field.intake import IntakeError
from fotonomy.field.models import Take
from fotonomy.field.services import drop_take
from fotonomy.shoots import history
from fotonomy.shoots.models import Deleted, LightReading, Setup, Shoot
from fotonomy.shoots.services.moments import NEAR_DAYS, check_moment
from fotonomy.shoots.services.setups import create_setup, delete_setup
from fotonomy.shoots.services.shoots import make_shoot

pytestmark = pytest.mark.usefixtures("nothing_shot_yet")
LATE = "9999-12-31T23:59:59Z"


def send(client: Any, shoot: Shoot, *entries: Any) -> list[dict[str, Any]]:
    """What a phone is answered for each of its entries."""
    answer = client.post(
        reverse("field-send", args=[shoot.pk]),
        json.dumps({"sent_at": timezone.now().isoformat(), "entries": list(entries)}),
        content_type="application/json",
    )
    assert answer.status_code == 200
    found: list[dict[str, Any]] = answer.json()["results"]
    return found


def entry(row: Setup, **given: Any) -> dict[str, Any]:
    return {"uid": str(uuid.uuid4()), "kind": "take", "setup": row.pk, "verdict": "good", **given}


WRONG = [
    ("iris", {"differed": {"iris": "banana"}}, {"iris": "banana"}, "f/4"),
    ("iso", {"differed": {"iso": "-3"}}, {"iso": "-3"}, "ISO"),
    ("white_k", {"differed": {"white_k": "warm"}}, {"white_k": "warm"}, "K"),
    ("length", {"length": "soon"}, {"length": "soon"}, "0:14"),
    ("length", {"length": "49:00:00"}, {"length": "49:00:00"}, "48 hours"),
    ("verdict", {"verdict": "superb"}, {"verdict": "superb"}, "good, maybe or no good"),
    ("clip", {"clip": "C" * 41}, {"clip": "C" * 41}, "at most 40"),
    ("card", {"card": "C" * 41}, {"card": "C" * 41}, "at most 40"),
    ("note", {"note": "n" * 1001}, {"note": "n" * 1001}, "at most 1000"),
    ("why", {"why": ["w" * 25]}, {"why": ["w" * 25]}, "24 characters"),
    ("why", {"own": "w" * 25}, {"own": "w" * 25}, "24 characters"),
    ("why", {"why": [f"w{k}" for k in range(13)]}, {"why": [f"w{k}" for k in range(13)]},
     "12 reasons"),
    ("at", {"at": LATE}, {"at": LATE}, "more than a year"),
    ("at", {"at": "0001-01-01T00:00:00+14:00"}, {"at": "0001-01-01T00:00:00+14:00"}, "year"),
    ("at", {"at": "yesterday"}, {"at": "yesterday"}, "moment"),
]  # fmt: skip


@pytest.mark.parametrize(("name", "sent", "typed", "said"), WRONG)
def test_the_form_and_the_phone_refuse_the_same_in_the_same_words(
    demo_client: Any, demo: Shoot, launch: Setup, name: str, sent: Any, typed: Any, said: str
) -> None:
    (found,) = send(demo_client, demo, entry(launch, **sent))
    assert not found["kept"]
    assert list(found["errors"]) == [name]
    assert said.casefold() in found["errors"][name].casefold()
    form = {"uid": "f-1", "verdict": "good", "note": "kept", **typed}
    answer = demo_client.post(reverse("field-take", args=[demo.pk, launch.pk]), form)
    assert answer.status_code == 422
    assert answer.context["errors"] == found["errors"]
    page = answer.content.decode()
    # The words stand on the page, and nothing that was typed is lost.
    assert found["errors"][name].replace("“", "&ldquo;")[:20] in page
    if "note" not in typed:
        assert ">kept</textarea>" in page
    assert not Take.objects.exists()


def test_what_is_right_is_kept_alike(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    given = {"clip": " A1 ", "card": "K2", "length": "0:14", "note": "n", "why": ["cloud"],
             "own": "gulls, cloud", "verdict": "maybe"}  # fmt: skip
    (found,) = send(demo_client, demo, entry(launch, uid="p", differed={"iris": "f/8"}, **given))
    assert found["kept"]
    form = {"uid": "f", "iris": "f/8", **given}
    assert (
        demo_client.post(reverse("field-take", args=[demo.pk, launch.pk]), form).status_code == 302
    )
    first, second = Take.objects.order_by("number")
    for name in ("verdict", "planned", "differed", "why", "clip", "card", "length_s", "note"):
        assert getattr(first, name) == getattr(second, name), name
    assert first.differed == {"iris": "f/8"}
    assert first.why == ["cloud", "gulls"]
    assert first.clip == "A1"


def test_a_take_that_is_here_is_kept_though_its_values_read_otherwise_now(
    demo_client: Any, demo: Shoot, launch: Setup
) -> None:
    """The answer got lost, and then another body came with fewer values: nothing is refused."""
    one = entry(launch, uid="lost", differed={"iris": "f/8"})
    assert send(demo_client, demo, one)[0]["kept"]
    again = {**one, "differed": {"iris": "f/900"}}
    (found,) = send(demo_client, demo, again)
    assert found["kept"]
    assert Take.objects.get().differed == {"iris": "f/8"}


@pytest.mark.parametrize(
    ("name", "text"),
    [
        ("verdict", "superb"),
        ("verdict", ""),
        ("length", "soon"),
        ("clip", "C" * 41),
        ("own", "w" * 25),
    ],
)
def test_a_take_is_changed_by_the_same_rules(
    demo_client: Any, demo: Shoot, launch: Setup, name: str, text: str
) -> None:
    send(demo_client, demo, entry(launch, note="as it was"))
    take = Take.objects.get()
    page = reverse("take-edit", args=[demo.pk, take.pk])
    answer = demo_client.post(page, {"note": "typed", name: text})
    assert answer.status_code == 422
    assert list(answer.context["errors"]) == ["why" if name == "own" else name]
    assert ">typed</textarea>" in answer.content.decode()
    take.refresh_from_db()
    assert take.note == "as it was"
    assert demo_client.post(page, {"why": ["cloud"], "verdict": "maybe"}).status_code == 302
    take.refresh_from_db()
    assert (take.why, take.verdict) == (["cloud"], "maybe")


@pytest.fixture
def other(demo: Shoot) -> Setup:
    """A setup of another shoot of the same person."""
    shoot = make_shoot(demo.owner, name="Another", date="2027-03-01")
    return create_setup(shoot, title="Elsewhere")


@pytest.mark.parametrize("kind", ["take", "light"])
def test_what_is_of_another_shoot_is_not_filed_here(
    demo_client: Any, demo: Shoot, launch: Setup, other: Setup, kind: str
) -> None:
    given = {"kind": kind, "name": "5A Launch, side pass", "read": "EV 9"}
    (found,) = send(demo_client, other.shoot, entry(launch, **given))
    assert not found["kept"]
    assert "none of this shoot" in found["words"]
    assert not Take.objects.exists()
    (found,) = send(demo_client, demo, entry(launch, **given))
    assert found["kept"]


def test_a_take_of_a_setup_that_was_deleted_is_kept_by_both_doors(
    demo_client: Any, demo: Shoot, launch: Setup
) -> None:
    key = launch.pk
    delete_setup(launch)
    (found,) = send(demo_client, demo, entry(launch, setup=key, name="5A Launch"))
    assert found["kept"]
    form = {"uid": "f", "verdict": "good", "name": "5A Launch"}
    answer = demo_client.post(reverse("field-take", args=[demo.pk, key]), form, follow=True)
    assert "undo brings it back" in answer.content.decode()
    assert list(Take.objects.values_list("setup_key", "setup_name")) == [(key, "5A Launch")] * 2
    # An id that nothing of this shoot ever had is none.
    answer = demo_client.post(reverse("field-take", args=[demo.pk, key + 999]), form, follow=True)
    assert "none of this shoot" in answer.content.decode()
    assert Take.objects.count() == 2


@pytest.mark.parametrize("how", ["deleted", "undone"])
def test_a_take_that_was_deleted_does_not_come_back(
    demo_client: Any, demo: Shoot, launch: Setup, how: str
) -> None:
    """The answer got lost, somebody deleted the take, the phone sends it again."""
    one = entry(launch, uid="lost")
    send(demo_client, demo, one)
    take = Take.objects.get()
    take.shoot = demo
    if how == "deleted":
        drop_take(take)
    else:
        assert history.undo(demo)
    (found,) = send(demo_client, demo, one)
    assert not found["kept"]
    assert "then deleted" in found["words"]
    assert "undo brings it back" in found["words"]
    assert not Take.objects.exists()
    form = {"uid": "lost", "verdict": "good"}
    page = demo_client.post(reverse("field-take", args=[demo.pk, launch.pk]), form, follow=True)
    assert "then deleted" in page.content.decode()
    # Brought back, it is there once, and the phone hears that it is kept.
    assert history.undo(demo) if how == "deleted" else history.redo(demo)
    (found,) = send(demo_client, demo, one)
    assert found["kept"]
    assert Take.objects.count() == 1


def test_a_shoot_that_goes_whole_leaves_nothing_behind(demo_client: Any, other: Setup) -> None:
    shoot = other.shoot
    send(demo_client, shoot, entry(other))
    before = Deleted.objects.count()
    shoot.delete()
    assert Deleted.objects.count() == before


BAD = [
    None, 7, "take", [], {}, {"kind": "take"}, {"kind": ["take"]}, {"kind": {}},
    {"kind": "take", "setup": True}, {"kind": "take", "setup": 10**30},
    {"kind": "take", "setup": "x", "uid": ["a"]}, {"kind": "light", "setup": None},
    {"kind": "light", "setup": 2**70, "read": 5}, {"kind": "take", "at": {"a": 1}},
]  # fmt: skip
WORSE = [
    {"at": LATE}, {"at": 5}, {"why": {"a": 1}}, {"why": [None]}, {"why": ["\ud800"]},
    {"planned": []}, {"differed": "f/4"}, {"differed": {"iris": None}}, {"length": 14},
    {"length": "9" * 400}, {"note": ["n"]}, {"clip": "\x00"}, {"uid": ""}, {"uid": "u" * 80},
    {"uid": "\ud800"}, {"verdict": None}, {"name": 5, "verdict": []},
    {"note": "\ue000/x\ue001y\ue002"}, {"card": "\x07"},
]  # fmt: skip


def test_each_entry_of_a_batch_is_answered_for_itself(
    demo_client: Any, demo: Shoot, launch: Setup
) -> None:
    good = [entry(launch, uid=f"good-{k}") for k in range(2)]
    bad = [*BAD, *(entry(launch, **one) for one in WORSE)]
    bad += [entry(launch, kind="light", **one) for one in (
        {"read": "bright"}, {"read": 5}, {"read": "EV 9", "at": LATE}, {"read": "EV 9", "uid": 5},
        {"read": "EV 9", "way": ["ISO 200"]}, {"read": "9" * 500},
    )]  # fmt: skip
    results = send(demo_client, demo, good[0], *bad, good[1])
    assert [one["kept"] for one in results] == [True, *([False] * len(bad)), True]
    assert all(one["words"] for one in results)
    assert "failed" not in " ".join(one["words"] for one in results)
    assert sorted(Take.objects.values_list("uid", flat=True)) == ["good-0", "good-1"]


def test_a_fault_of_the_program_is_one_entry_and_said(
    demo_client: Any, demo: Shoot, launch: Setup, monkeypatch: pytest.MonkeyPatch
) -> None:
    real = intake.read_take

    def fails(shoot: Shoot, spec: Any, sent: Any) -> Any:
        if sent.fields["uid"] == "b":
            raise ZeroDivisionError
        return real(shoot, spec, sent)

    monkeypatch.setattr(intake, "read_take", fails)
    results = send(demo_client, demo, *(entry(launch, uid=uid) for uid in "abc"))
    assert [one["kept"] for one in results] == [True, False, True]
    assert "server's log" in results[1]["words"]


@pytest.mark.parametrize(("days", "holds"), [(NEAR_DAYS, True), (NEAR_DAYS + 1, False)])
def test_a_moment_lies_within_a_year_of_the_shoot(demo: Shoot, days: int, holds: bool) -> None:
    today = timezone.now().date()
    first = min([today, *(day.date for day in demo.days.all())])
    last = max([today, *(day.date for day in demo.days.all())])
    for day in (first - timedelta(days), last + timedelta(days)):
        at = datetime(day.year, day.month, day.day, 12, tzinfo=UTC)
        if holds:
            assert check_moment(demo, at) == at
        else:
            with pytest.raises(ValueError, match="more than a year"):
                check_moment(demo, at)


def test_a_clock_years_off_is_put_right_before_it_is_judged(
    demo_client: Any, demo: Shoot, launch: Setup
) -> None:
    """A phone that lives in 2036 logs as well as any: it says so itself."""
    off = timedelta(days=3650)
    shot = timezone.now() - timedelta(hours=2)
    answer = demo_client.post(
        reverse("field-send", args=[demo.pk]),
        json.dumps({"sent_at": (timezone.now() + off).isoformat(),
                    "entries": [entry(launch, at=(shot + off).isoformat())]}),
        content_type="application/json",
    )  # fmt: skip
    assert answer.json()["results"][0]["kept"]
    assert abs((Take.objects.get().at - shot).total_seconds()) < 3


def test_a_reading_is_kept_once_and_moved_by_both_doors_alike(
    demo_client: Any, demo: Shoot, launch: Setup
) -> None:
    before = LightReading.objects.count()
    page = reverse("field-light", args=[demo.pk, launch.pk])
    assert demo_client.post(page, {"read": "brighter than it was"}).status_code == 422
    (found,) = send(demo_client, demo, entry(launch, kind="light", read="brighter than it was"))
    assert not found["kept"]
    assert list(found["errors"]) == ["light"]
    assert LightReading.objects.count() == before


def test_errors_know_their_fields() -> None:
    error = IntakeError({"iris": "an f-number", "length": "a length"})
    assert (str(error), list(error.errors)) == ("an f-number; a length", ["iris", "length"])

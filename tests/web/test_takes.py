"""Takes through the client: logged, changed, counted, and what remains of a day."""

import csv
from datetime import datetime, time, timedelta
from io import StringIO
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.urls import reverse
from django.utils import timezone

from fotonomy.core.errors import RuleError
from fotonomy.core.notation.reading import read_length
from fotonomy.days.planning import planned_day
from fotonomy.demo.loader import give_demo
from fotonomy.field.models import Take
from fotonomy.field.presenters.takes import remains_of
from fotonomy.field.services import MOST_WHY, change_take, drop_take, log_take
from fotonomy.field.views.takes import next_clip
from fotonomy.shoots import history
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.services.setups import delete_setup
from tests.web.test_days import page_of, words
from tests.web.test_field import MESSAGES, at, entry, form_of, logged

# The log and the crew begin empty here.
pytestmark = pytest.mark.usefixtures("nothing_shot_yet")


def test_a_take_is_two_presses(demo_client: Any, launch: Setup) -> None:
    page = page_of(demo_client.get(at(launch, "field-take")))
    answer = demo_client.post(at(launch, "field-take"), form_of(page), follow=True)
    assert "5A Launch, side pass, take 1 kept: good." in words(page_of(answer), MESSAGES)
    take = Take.objects.get()
    assert (take.setup_key, take.number, take.verdict, take.differed) == (launch.pk, 1, "good", {})
    assert take.planned["iris"] == f"f/{launch.iris:g}"
    assert take.by == launch.shoot.owner
    assert abs((take.at - timezone.now()).total_seconds()) < 60
    assert "1 take, 1 good" in words(page_of(demo_client.get(at(launch))))


def test_what_differed_and_why(demo_client: Any, launch: Setup) -> None:
    sent = form_of(page_of(demo_client.get(at(launch, "field-take"))))
    sent |= {"verdict": "no_good", "iris": "f/8", "why": ["cloud", "soft"], "own": "wake, gull",
             "clip": "C0147", "card": "B2", "length": "0:14", "note": "bow in the sun"}  # fmt: skip
    demo_client.post(at(launch, "field-take"), sent)
    take = Take.objects.get()
    assert take.differed == {"iris": "f/8"}
    assert take.why == ["cloud", "soft", "wake", "gull"]
    assert (take.clip, take.card, take.length_s, take.note) == ("C0147", "B2", 14, "bow in the sun")
    page = page_of(demo_client.get(at(launch, "field-take")))
    # The clip counts on, the card stays, the take before is listed with what differed.
    assert page.xpath("//input[@name='clip']/@value") == ["C0148"]
    assert page.xpath("//input[@name='card']/@value") == ["B2"]
    assert f"Iris f/8 instead of {take.planned['iris']}" in words(page, "//ol[@class='takes']")


def test_a_wrong_take_is_not_kept_and_nothing_is_lost(demo_client: Any, launch: Setup) -> None:
    sent = form_of(page_of(demo_client.get(at(launch, "field-take"))))
    sent |= {"iris": "wide", "length": "long", "verdict": "maybe", "clip": "C9", "note": "gulls",
             "why": "flare"}  # fmt: skip
    answer = demo_client.post(at(launch, "field-take"), sent)
    assert answer.status_code == 422
    page = page_of(answer)
    assert len(page.xpath("//*[contains(@class, 'has-error')]")) == 2
    assert not Take.objects.exists()
    kept = form_of(page)
    for name in ("iris", "length", "verdict", "clip", "note", "uid", "why"):
        assert kept[name] == sent[name]
    sent |= {"iris": "f/8", "length": "14"}
    demo_client.post(at(launch, "field-take"), sent)
    assert Take.objects.get().uid == sent["uid"]


def test_a_double_tap_is_one_take(demo_client: Any, launch: Setup) -> None:
    sent = form_of(page_of(demo_client.get(at(launch, "field-take"))))
    for _ in range(3):
        demo_client.post(at(launch, "field-take"), sent)
    assert Take.objects.count() == 1


def test_two_people_at_one_setup_log_two_takes(launch: Setup) -> None:
    one, other = logged(launch), logged(launch)
    assert (one.number, other.number) == (1, 2)
    # The same take from two phones is one.
    again = log_take(launch.shoot, launch.pk, str(launch), entry(uid=one.uid, verdict="maybe"))
    assert (again.pk, again.verdict) == (one.pk, "good")
    assert Take.objects.count() == 2


@pytest.mark.parametrize("ahead_h", [-30.0, -2.0, 3.0])
def test_a_clock_that_is_off_is_put_right(launch: Setup, ahead_h: float) -> None:
    off = timedelta(hours=ahead_h)
    shot = timezone.now() - timedelta(minutes=5)
    take = logged(launch, at=shot + off, sent_at=timezone.now() + off)
    assert abs((take.at - shot).total_seconds()) < 2
    assert take.clock_off_s == pytest.approx(off.total_seconds(), abs=2)
    right = logged(launch, at=shot, sent_at=timezone.now() + timedelta(seconds=60))
    assert (right.at, right.clock_off_s) == (shot, 0)


def test_a_take_is_changed_dropped_and_brought_back(
    demo_client: Any, demo: Shoot, launch: Setup
) -> None:
    take = logged(launch, why=("cloud", "wake"), clip="C1", length_s=3723)
    where = reverse("take-edit", args=[demo.pk, take.pk])
    page = page_of(demo_client.get(where))
    assert page.xpath("//input[@name='length']/@value") == ["1:02:03"]
    assert page.xpath("//input[@name='own']/@value") == ["wake"]
    sent = form_of(page) | {"verdict": "maybe", "length": "no idea"}
    assert demo_client.post(where, sent).status_code == 422
    demo_client.post(where, {**sent, "length": "0:20", "note": "second try"})
    take.refresh_from_db()
    assert (take.verdict, take.length_s, take.note, take.clip) == ("maybe", 20, "second try", "C1")
    answer = demo_client.post(reverse("take-delete", args=[demo.pk, take.pk]), follow=True)
    assert "deleted; undo brings it back" in words(page_of(answer), MESSAGES)
    assert not Take.objects.exists()
    page = page_of(answer)
    undo = page.xpath("//form[.//button[starts-with(text(), 'Undo')]]")[0]
    (button,) = undo.xpath(".//button")
    demo_client.post(undo.get("action"), {"step": button.get("value"), "day": launch.day_id})
    back = Take.objects.get()
    assert (back.pk, back.verdict, back.why) == (take.pk, "maybe", ["cloud", "wake"])
    assert back.at == take.at


def test_two_changes_of_one_take_both_stay(launch: Setup) -> None:
    take = logged(launch, note="first")
    change_take(take, {"clip": "C5"})
    change_take(take, {"verdict": "maybe"})
    take.refresh_from_db()
    assert (take.clip, take.verdict, take.note) == ("C5", "maybe", "first")
    # Undoing one leaves the other.
    shoot = take.shoot
    steps = list(history.steps(shoot))
    history.undo(shoot, steps[-2].pk)
    take.refresh_from_db()
    assert (take.clip, take.verdict) == ("", "maybe")


def test_a_take_outlives_its_setup(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    logged(launch)
    delete_setup(launch)
    page = page_of(demo_client.get(reverse("field-remains", args=[demo.pk, launch.day_id])))
    assert "5A Launch, side pass, take 1: good" in words(page)
    # One that waited on a phone meanwhile is kept as well.
    log_take(demo, launch.pk, "5A Launch, side pass", entry())
    assert Take.objects.count() == 2
    history.undo(demo)
    history.undo(demo)
    page = page_of(demo_client.get(at(launch)))
    assert "1 take, 1 good" in words(page)


def test_a_take_logged_while_its_setup_is_deleted_is_kept(
    demo_client: Any, demo: Shoot, launch: Setup
) -> None:
    where = at(launch, "field-take")
    sent = form_of(page_of(demo_client.get(where))) | {"clip": "C7", "iris": "f/8"}
    key = launch.pk
    delete_setup(launch)
    answer = demo_client.post(where, sent, follow=True)
    assert "kept. Its setup was deleted meanwhile" in words(page_of(answer), MESSAGES)
    take = Take.objects.get()
    assert (take.setup_key, take.setup_name, take.clip) == (key, "5A Launch, side pass", "C7")
    assert take.planned["iris"] == "f/8"
    # A wrong one says so; and a press too many makes no second.
    answer = demo_client.post(where, {**sent, "uid": "x", "length": "soon"}, follow=True)
    assert "Not kept" in words(page_of(answer), MESSAGES)
    demo_client.post(where, sent)
    assert Take.objects.count() == 1


def test_what_remains(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    logged(launch, length_s=60.0)
    day = launch.day_id
    page = page_of(demo_client.get(reverse("field-remains", args=[demo.pk, day])))
    said = words(page)
    assert "1 of 10 setups have a good take" in said
    undone = words(page, "//ul[@class='day-list undone']")
    assert "1A Mill pond filling" in undone
    assert "5A" not in undone
    # 100 Mb/s for a minute are 0.75 GB of 128.
    rate = page.xpath("//p[@class='left']")[0].text_content()
    assert rate.startswith("the card of A-cam: 127 GB left of 128")
    scenes = words(page, "//ul[@class='scenes']")
    assert "5" in scenes
    assert "wide" in scenes


def test_takes_as_csv(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    logged(
        launch, differed={"iris": "f/8"}, planned={"iris": "f/4", "iso": "500"},
        why=("cloud",), note="=1+1", length_s=14.0,
    )  # fmt: skip
    answer = demo_client.get(reverse("takes-csv", args=[demo.pk]))
    (row,) = csv.DictReader(StringIO(answer.content.decode()))
    assert row["at"] == "2027-06-05T15:31:00+10:00"
    assert (row["planned iris"], row["set iris"]) == ("f/4", "f/8")
    assert (row["planned iso"], row["set iso"]) == ("500", "500")
    assert (row["why"], row["note"], row["length s"]) == ("cloud", "'=1+1", "14")


@pytest.mark.parametrize(
    ("text", "seconds"),
    [("", None), ("0:14", 14), ("14", 14), ("14 s", 14), ("3 min", 180), ("1:02:03", 3723),
     ("90:00", 5400), ("2,5", 2.5)],
)  # fmt: skip
def test_lengths(text: str, seconds: float | None) -> None:
    assert read_length(text) == seconds


@pytest.mark.parametrize("text", ["soon", "1:99", "-4", "1:2:3:4", "0:1"])
def test_lengths_that_are_none(text: str) -> None:
    with pytest.raises(RuleError):
        read_length(text)


def test_clips_count_on() -> None:
    def named(*names: str) -> list[Take]:
        return [Take(clip=name) for name in names]

    assert next_clip(named("C0147")) == "C0148"
    assert next_clip(named("C0009", "", "A099.mov")) == "A100.mov"
    assert next_clip(named("C0199")) == "C0200"
    assert next_clip(named("")) == next_clip([]) == next_clip(named("clip")) == ""


@pytest.mark.parametrize(
    "wrong",
    [{"verdict": "superb"}, {"uid": ""}, {"uid": "x" * 40}, {"clip": "x" * 41}, {"note": "x" * 1001},
     {"length_s": -1.0}, {"length_s": 1e9}, {"why": ("x" * 25,)}, {"why": tuple("abcdefghijklm")},
     {"why": ("",)}],
)  # fmt: skip
def test_takes_are_held_to_their_rules(wrong: dict[str, Any]) -> None:
    assert MOST_WHY == 12
    with pytest.raises(RuleError):
        entry(**wrong)


def test_changes_of_a_take_are_held_to_them_too(launch: Setup) -> None:
    take = logged(launch)
    for wrong in ({"verdict": "superb"}, {"note": "x" * 2000}, {"length_s": -5.0}):
        with pytest.raises(RuleError):
            change_take(take, wrong)
    change_take(take, {"number": 9, "shoot": None, "at": None})
    take.refresh_from_db()
    assert take.number == 1
    drop_take(take)
    with pytest.raises(Take.DoesNotExist):
        change_take(Take(pk=take.pk or 1, shoot=launch.shoot), {"clip": "x"})


@pytest.mark.parametrize(
    "sent",
    [{}, {"verdict": "good"}, {"uid": "a", "verdict": "good", "at": "never", "sent_at": "x"},
     {"uid": "b", "verdict": "good", "at": "2027-06-05T05:31:00", "sent_at": "99999-01-01"},
     {"uid": "c", "verdict": "good", "at": "2027-06-05T05:31:00Z", "sent_at": "0001-01-01T00:00:00Z"},
     {"uid": "d", "verdict": "good", "why": "\x00"}, {"uid": "e", "verdict": "good", "note": "\x00"}],
)  # fmt: skip
def test_forged_takes_break_nothing(demo_client: Any, launch: Setup, sent: dict[str, str]) -> None:
    assert demo_client.post(at(launch, "field-take"), sent).status_code in (302, 422)
    day = reverse("field-remains", args=[launch.shoot_id, launch.day_id])
    assert demo_client.get(day).status_code == 200
    assert demo_client.get(reverse("takes-csv", args=[launch.shoot_id])).status_code == 200


def test_what_remains_says_when_the_light_is_there_next(demo: Shoot, launch: Setup) -> None:
    """The ferry's dusk is 16:44 to 17:28 (sunset and nautical twilight of 5 June there, skyfield)."""
    planned = planned_day(demo, launch.day)
    for clock, said, gone in (
        (time(12, 0), "dusk 16:44 to 17:28", False),
        (time(17, 0), "dusk now, until 17:28", False),
        (time(17, 40), "no dusk any more on this day", True),
    ):
        at = datetime.combine(launch.day.date, clock, demo.main_place.zone)
        found = {one.name: one for one in remains_of(planned, [], at).undone}
        ferry = found["6A Ferry lights over the estuary"]
        assert (ferry.window, ferry.gone) == (said, gone)
        assert found["4B Adze chips"].window == ""


def test_the_demo_comes_with_half_of_its_first_day(db: None) -> None:
    """What the loader logs: five setups of ten good, and a second person in the crew."""
    owner = User.objects.create_user("somebody")
    shoot = give_demo(owner)
    takes = list(shoot.takes.all())
    assert len({take.setup_key for take in takes if take.verdict == "good"}) == 5
    assert {take.by_name for take in takes} == {"somebody"}
    assert not shoot.members.exists()
    assert not shoot.changes.exists()
    other = [take for take in takes if take.differed]
    assert [list(take.differed) for take in other] == [["iso"], ["iris"]]
    # Read on the spot: both setups stand in the light that was read, and their place has it.
    for code, ev100 in (("1B", 8.7), ("3A", 13.0)):
        row = shoot.setups.get(code=code)
        assert row.light == {"ev100": ev100}
        assert ev100 in row.place.light_readings.values_list("ev100", flat=True)

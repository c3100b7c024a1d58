"""The field pages through the client: cards, light that differs, takes, and what remains."""

import csv
import re
import uuid
from datetime import UTC, date, datetime, timedelta
from io import StringIO
from typing import Any

import pytest
import segno
from django.contrib.auth.models import User
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.errors import RuleError
from fotonomy.core.plan import plan
from fotonomy.field.models import Take
from fotonomy.field.services import MOST_WHY, TakeEntry, change_take, drop_take, log_take, put_light
from fotonomy.field.views.takes import next_clip, read_length
from fotonomy.shoots import history
from fotonomy.shoots.mapping import packed_kit, spec_of
from fotonomy.shoots.models import LightReading, Setup, Shoot
from fotonomy.shoots.services.setups import delete_setup
from fotonomy.shoots.services.shoots import make_shoot
from tests.web.test_days import page_of, words

MESSAGES = "//*[@id='messages']"
AT = datetime(2027, 6, 5, 5, 31, tzinfo=UTC)


def at(row: Setup, name: str = "field-card") -> str:
    return reverse(name, args=[row.shoot_id, row.pk])


def form_of(page: Any) -> dict[str, Any]:
    """What a browser would send of the form of a take."""
    found: dict[str, Any] = {}
    for one in page.xpath("//form[@id='take-form']//input | //form[@id='take-form']//textarea"):
        sort = one.get("type")
        if sort in ("radio", "checkbox") and one.get("checked") is None:
            continue
        value = one.text or "" if one.tag == "textarea" else one.get("value") or ""
        found.setdefault(one.get("name"), value)
    return found


@pytest.fixture
def launch(demo: Shoot) -> Setup:
    return demo.setups.select_related("shoot", "place", "day").get(code="5A")


def entry(**given: Any) -> TakeEntry:
    plain: dict[str, Any] = {"uid": str(uuid.uuid4()), "verdict": "good", "at": AT}
    return TakeEntry(**{**plain, **given})


def logged(row: Setup, **given: Any) -> Take:
    return log_take(row.shoot, row.pk, str(row), entry(**given))


def test_the_card_says_what_to_set_and_what_to_do(demo_client: Any, launch: Setup) -> None:
    page = page_of(demo_client.get(at(launch)))
    values = dict(
        zip(page.xpath("//dl[@class='values']//dt/text()"),
            [v.text_content().strip() for v in page.xpath("//dd[@class='value']")], strict=True)
    )  # fmt: skip
    spec = spec_of(launch, packed_kit(launch.shoot))
    assert list(values) == ["Frame rate", "Shutter", "Iris", "ISO", "ND", "White"]
    assert values["Frame rate"] == "25 fps"
    assert values["ISO"] == str(spec.iso)
    assert values["Iris"] == f"f/{spec.iris:g}"
    said = words(page)
    assert "15:20 at Outer jetty · sun behind the subject 11:10 to 16:32" in said
    assert "5B begins here at 15:35" in said
    assert "lens wiped" in said
    assert "white locked at 5600 K" in said
    # The neighbours of the day, and what to mind at the place.
    nav = page.xpath("//nav[@aria-label='Setups']//a/text()")
    assert nav == ["‹ 4C", "5B ›"]
    assert launch.place.cautions in said


def test_a_run_says_when_it_ends(demo_client: Any, demo: Shoot) -> None:
    stars = demo.setups.select_related("shoot", "place", "day").get(code="8A")
    page = page_of(demo_client.get(at(stars)))
    run = plan(spec_of(stars, packed_kit(demo))).analysis.run
    assert isinstance(run, IntervalRun)
    assert run.ends is not None
    assert f"{run.frames} frames, until {run.ends:%H:%M}: " in words(page)
    (ends,) = page.xpath("//span/@data-ends")
    assert datetime.fromisoformat(ends) == run.ends


def test_the_printed_card_opens_the_one_on_the_phone(demo_client: Any, launch: Setup) -> None:
    answer = demo_client.get(reverse("paper", args=[launch.shoot_id, "cards"]))
    drawings = re.findall(
        r'<figure class="card-qr">\s*(<svg.*?</svg>)', answer.content.decode(), re.S
    )
    assert len(drawings) == 12
    wanted = f"http://testserver{at(launch)}"
    # Drawn again by the library alone, it is the same drawing.
    drawing = next(one for one in drawings if "Opens 5A" in one)
    alone = segno.make(wanted, error="m").svg_inline(scale=5, border=4)
    squares, again = (re.findall(r' d="([^"]+)"', one)[-1] for one in (drawing, alone))
    assert squares == again


def test_leave_for_the_next_place_in_time(demo_client: Any, demo: Shoot) -> None:
    close = demo.setups.get(code="4C")
    said = words(page_of(demo_client.get(at(close))))
    # 5A sets up from 15:10 on at the outer jetty; the way there is typed in the demo.
    way = demo.ways.get(start__name="Yard and saw", end__name="Outer jetty")
    leaves = datetime(2027, 6, 5, 15, 10) - timedelta(minutes=way.minutes)  # noqa: DTZ001
    assert f"leave for 5A at {leaves:%H:%M}, {way.minutes:g} min away" in said


def test_the_values_alone(demo_client: Any, launch: Setup) -> None:
    page = page_of(demo_client.get(f"{at(launch)}?big=1"))
    assert len(page.xpath("//*[@class='big-item']")) == 6
    assert not page.xpath("//dl")


def test_the_list_of_the_day_with_what_is_done(
    demo_client: Any, demo: Shoot, launch: Setup
) -> None:
    logged(launch)
    logged(demo.setups.select_related("shoot").get(code="4B"), verdict="no_good")
    answer = demo_client.get(reverse("field", args=[demo.pk]), follow=True)
    page = page_of(answer)
    lines = [" ".join(one.text_content().split()) for one in page.xpath("//ol/li")]
    assert len(lines) == 10
    assert lines[0].startswith("07:45 1A Mill pond filling")
    assert any("5A Launch, side pass" in line and "● 1 good of 1" in line for line in lines)
    assert any("4B" in line and "◐ 1 take, none good" in line for line in lines)


@pytest.mark.parametrize(
    ("read", "said"),
    [("−1", "now 10.6: 1 stop less"), ("+2/3", "0.7 stops more"), ("9", "now 9: 2.6 stops less"),
     ("11.6", "as it reads now"), ("overcast", "now"), ("f/4 1/60 ISO 400", "now 7.9")],
)  # fmt: skip
def test_the_light_reads_otherwise(demo_client: Any, launch: Setup, read: str, said: str) -> None:
    page = page_of(demo_client.get(at(launch, "field-light"), {"read": read}))
    assert said in words(page, "//p[@class='said']")


def test_a_way_is_one_press_and_one_step(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    page = page_of(demo_client.get(at(launch, "field-light"), {"read": "−1"}))
    ways = page.xpath("//ol[@class='ways']/li//b/text()")
    assert 3 <= len(ways) - 1 <= 5
    chosen = next(one for one in ways if one.startswith("ISO"))
    before = LightReading.objects.filter(place=launch.place).count()
    answer = demo_client.post(
        at(launch, "field-light"), {"read": "−1", "way": chosen, "others": "0"}, follow=True
    )
    assert f"5A: {chosen}." in words(page_of(answer), MESSAGES)
    launch.refresh_from_db()
    assert f"ISO {launch.iso}" == chosen
    assert launch.light == {"ev100": 10.6}
    # What was read is kept at the place.
    assert LightReading.objects.filter(place=launch.place).count() == before + 1
    assert history.undo(demo) is not None
    launch.refresh_from_db()
    assert launch.light == {"ev100": 11.6}
    assert f"ISO {launch.iso}" != chosen


def test_the_same_for_the_next_setups_here(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    gulls, ferry = (demo.setups.get(code=code) for code in ("5B", "6A"))
    elsewhere = demo.setups.get(code="4C").light
    page = page_of(demo_client.get(at(launch, "field-light"), {"read": "−1"}))
    assert "and 2 later here" in words(page)
    way = page.xpath("//ol[@class='ways']/li//b/text()")[0]
    answer = demo_client.post(
        at(launch, "field-light"), {"read": "−1", "way": way, "others": "1"}, follow=True
    )
    assert "The light of 2 later here moves with it" in words(page_of(answer), MESSAGES)
    for row in (gulls, ferry):
        was = row.light["ev100"]
        row.refresh_from_db()
        assert row.light["ev100"] == pytest.approx(was - 1)
    assert demo.setups.get(code="4C").light == elsewhere
    assert history.undo(demo) is not None
    ferry.refresh_from_db()
    assert ferry.light == {"ev100": 3.1}


def test_what_lamps_light_keeps_its_light(demo: Shoot, launch: Setup) -> None:
    gulls = demo.setups.get(code="5B")
    before = gulls.light
    Setup.objects.filter(pk=gulls.pk).update(mains_lamps=True)
    ferry = demo.setups.get(code="6A")
    _, moved = put_light(launch, 10.6, (), timezone.now(), (gulls.pk, ferry.pk, launch.pk))
    gulls.refresh_from_db()
    ferry.refresh_from_db()
    assert (moved, gulls.light, ferry.light) == (1, before, {"ev100": 2.1})


def test_only_the_reading_is_kept(demo_client: Any, launch: Setup) -> None:
    iso = launch.iso
    demo_client.post(at(launch, "field-light"), {"read": "10"})
    launch.refresh_from_db()
    assert (launch.light, launch.iso) == ({"ev100": 10.0}, iso)


def test_no_setting_helps(demo_client: Any, launch: Setup) -> None:
    said = words(page_of(demo_client.get(at(launch, "field-light"), {"read": "EV −6"})))
    assert "Don’t shoot: no setting helps" in said


@pytest.mark.parametrize("read", ["bright", "face 38 %", "900 %", "−99", "\x00", "9" * 200])
def test_a_wrong_reading_says_what_is_one(demo_client: Any, launch: Setup, read: str) -> None:
    answer = demo_client.get(at(launch, "field-light"), {"read": read})
    assert answer.status_code == 422
    page = page_of(answer)
    assert len(words(page, "//*[@class='field-error']")) > 10
    assert not page.xpath("//ol[@class='ways']")
    posted = demo_client.post(at(launch, "field-light"), {"read": read, "way": "ISO 100"})
    assert posted.status_code == 422
    launch.refresh_from_db()
    assert launch.light == {"ev100": 11.6}


def test_a_way_that_is_gone_changes_nothing(demo_client: Any, launch: Setup) -> None:
    answer = demo_client.post(
        at(launch, "field-light"), {"read": "−1", "way": "ISO 99"}, follow=True
    )
    assert "not there any more" in words(page_of(answer), MESSAGES)
    launch.refresh_from_db()
    assert launch.light == {"ev100": 11.6}


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
    undone = words(page, "//ul[@class='undone']")
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


def test_nobody_else_sees_or_changes_a_take(demo: Shoot, launch: Setup, stranger: User) -> None:
    take = logged(launch)
    client = Client()
    client.force_login(stranger)
    own = make_shoot(stranger, name="Mine", date=date(2027, 6, 5))
    for name, args in (
        ("field", [demo.pk]), ("field-card", [demo.pk, launch.pk]),
        ("field-take", [demo.pk, launch.pk]), ("field-light", [demo.pk, launch.pk]),
        ("take-edit", [demo.pk, take.pk]), ("take-edit", [own.pk, take.pk]),
        ("field-remains", [demo.pk, launch.day_id]), ("takes-csv", [demo.pk]),
        ("field-card", [own.pk, launch.pk]),
    ):  # fmt: skip
        answer = client.get(reverse(name, args=args), follow=True)
        assert answer.status_code == 404 or "5A" not in answer.content.decode()
    assert client.post(reverse("take-delete", args=[own.pk, take.pk])).status_code == 404
    assert Take.objects.filter(pk=take.pk).exists()


def test_an_empty_day_and_a_broken_setup(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    Setup.objects.filter(pk=launch.pk).update(subject_distance_m=1e-9)
    assert demo_client.get(at(launch)).status_code == 409
    assert demo_client.get(at(launch, "field-take")).status_code == 409
    assert demo_client.get(at(launch, "field-light")).status_code == 409
    page = page_of(demo_client.get(reverse("field-day", args=[demo.pk, launch.day_id])))
    assert "✕ cannot be planned" in words(page)
    remains = demo_client.get(reverse("field-remains", args=[demo.pk, launch.day_id]))
    assert remains.status_code == 200
    demo.setups.all().delete()
    page = page_of(demo_client.get(reverse("field-day", args=[demo.pk, launch.day_id])))
    assert "No setup stands on this day" in words(page)
    assert demo_client.get(at(launch), follow=True).status_code == 200


@pytest.mark.parametrize(
    "sent",
    [{}, {"verdict": "good"}, {"uid": "a", "verdict": "good", "at": "never", "sent_at": "x"},
     {"uid": "b", "verdict": "good", "at": "2027-06-05T05:31:00", "sent_at": "99999-01-01"},
     {"uid": "c", "verdict": "good", "at": "2027-06-05T05:31:00Z", "sent_at": "0001-01-01T00:00:00Z"},
     {"uid": "d", "verdict": "good", "why": "\x00"}],
)  # fmt: skip
def test_forged_takes_break_nothing(demo_client: Any, launch: Setup, sent: dict[str, str]) -> None:
    assert demo_client.post(at(launch, "field-take"), sent).status_code in (302, 422)
    day = reverse("field-remains", args=[launch.shoot_id, launch.day_id])
    assert demo_client.get(day).status_code == 200
    assert demo_client.get(reverse("takes-csv", args=[launch.shoot_id])).status_code == 200

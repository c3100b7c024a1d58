"""The field pages through the client: cards, light that differs, takes, and what remains."""

import re
import uuid
from datetime import UTC, date, datetime, timedelta
from typing import Any

import pytest
import segno
from django.contrib.auth.models import User
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.plan import plan
from fotonomy.days.planning import planned_day
from fotonomy.field.models import Take
from fotonomy.field.presenters.card import order_of
from fotonomy.field.services import TakeEntry, log_take, put_light
from fotonomy.shoots import history
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import LightReading, Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.services.shoots import make_shoot
from tests.web.test_days import page_of, words

# The log and the crew begin empty here.
pytestmark = pytest.mark.usefixtures("nothing_shot_yet")

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


@pytest.mark.parametrize("read", ["bright", "face 38 %", "900 %", "−99", "9" * 200])
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


def test_a_way_that_is_gone_keeps_the_reading_and_shows_the_ways_there_are(
    demo_client: Any, launch: Setup
) -> None:
    iso = launch.iso
    answer = demo_client.post(
        at(launch, "field-light"), {"read": "−1", "way": "ISO 99"}, follow=True
    )
    assert "not there any more" in words(page_of(answer), MESSAGES)
    launch.refresh_from_db()
    assert (launch.light, launch.iso) == ({"ev100": 10.6}, iso)
    assert answer.context["found"].ev100 == pytest.approx(10.6)


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
        # the title, not the code: a token of the form may hold "5A" by chance
        assert answer.status_code == 404 or launch.title not in answer.content.decode()
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


def test_the_rows_of_a_day_stand_as_its_blocks_do(demo: Shoot, launch: Setup) -> None:
    Setup.objects.filter(pk=launch.pk).update(planned_time=None)
    planned = planned_day(demo, launch.day)
    assert [row.pk for row in planned.agenda] == [block.key for block in order_of(planned)]
    assert planned.agenda[-1].pk == launch.pk
    hours = [row.planned_time for row in planned.agenda[:-1]]
    assert hours == sorted(hours)

"""What came home: test frames read against the plan, and plan against actual, through the client."""

import csv
from datetime import datetime, timedelta
from io import StringIO
from typing import Any
from uuid import uuid4

import pytest
from django.contrib.auth.models import User
from django.urls import reverse

from fotonomy.core.photometry.exposure_value import ev100_of
from fotonomy.core.traced_numbers import plain
from fotonomy.exchange.pictures import read_preview
from fotonomy.field.models import Take, TakePicture
from fotonomy.field.pictures import keep_picture
from fotonomy.shoots import history
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.services.setups import delete_setup
from fotonomy.simulators.stills import still
from tests.web.test_days import page_of
from tests.web.test_field import logged


def spec(row: Setup) -> Any:
    return spec_of(row, packed_kit(row.shoot))


def framed(take: Take, row: Setup, off_stops: float) -> TakePicture:
    """A take with a still of the stand-in camera, in light so many stops over the planned."""
    raw = still(spec(row), off_stops, datetime(2027, 6, 5, 15, 20), "A1")  # noqa: DTZ001
    return keep_picture(take, str(uuid4()), "frame.jpg", read_preview(raw, "frame.jpg"))


def frame_page(row: TakePicture) -> str:
    return reverse("frame-levels", args=[row.shoot_id, row.pk])


@pytest.mark.parametrize("off", [-1.5, -0.8, 0.8])
def test_a_test_frame_says_how_far_the_light_is_off(
    demo_client: Any, launch: Setup, off: float
) -> None:
    """Light put into the stand-in's frame is found again, from the middle of every reading."""
    picture = framed(logged(launch), launch, off)
    answer = demo_client.get(frame_page(picture))
    view = answer.context["v"]
    planned = ev100_of(spec(launch).light)
    assert float(view.read.removeprefix("EV ").replace("−", "-")) == pytest.approx(
        planned + off, abs=0.25
    )
    assert ("darker" if off < 0 else "brighter") in view.says
    assert not view.fits
    assert view.ways
    assert (
        f"?read={view.read.replace(' ', '%20').replace('−', '%E2%88%92')}"
        in answer.content.decode()
    )
    assert "1/50, f/4" in answer.content.decode()


def test_a_frame_as_planned_says_so(demo_client: Any, launch: Setup) -> None:
    view = demo_client.get(frame_page(framed(logged(launch), launch, 0.0))).context["v"]
    assert view.says.endswith("as planned")
    assert view.fits
    assert view.ways == ()


def test_what_was_set_otherwise_is_not_taken_for_the_light(demo_client: Any, launch: Setup) -> None:
    """A take a stop wider than planned in the planned light: its frame is a stop over."""
    wider = f"f/{launch.iris / 2**0.5:.1f}"
    take = logged(launch, differed={"iris": wider})
    picture = framed(take, launch, 1.0)
    view = demo_client.get(frame_page(picture)).context["v"]
    assert "brighter" in view.says
    assert "stops of it come from what was set otherwise" in view.otherwise
    planned = ev100_of(spec(launch).light)
    assert float(view.read.removeprefix("EV ")) == pytest.approx(planned, abs=0.25)


def sides(view: Any, number: int, **other: str) -> dict[str, str]:
    sent = {"curve": view.curve}
    for mark in view.marks:
        sent |= {f"{side}-{mark.number}": str(value) for side, value in mark.sides}
    return sent | {f"{side}-{number}": value for side, value in other.items()}


def test_areas_are_moved_kept_and_undone(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    picture = framed(logged(launch), launch, 0.0)
    page = frame_page(picture)
    view = demo_client.get(page).context["v"]
    before = view.marks[0].sides
    demo_client.post(page, sides(view, 1, left="1,5", top="2", width="10", height="12"))
    moved = demo_client.get(page).context["v"].marks
    assert [value for _, value in moved[0].sides] == [1.5, 2, 10, 12]
    assert moved[1].sides == view.marks[1].sides
    assert demo.changes.last().label == "areas of frame.jpg"
    history.undo(demo)
    assert demo_client.get(page).context["v"].marks[0].sides == before


@pytest.mark.parametrize(
    ("side", "text"),
    [("left", "x"), ("left", "nan"), ("width", "inf"), ("left", "99"), ("height", "0"), ("top", ""),
     ("top", "-1")],
)  # fmt: skip
def test_wrong_areas_are_refused_and_nothing_is_kept(
    demo_client: Any, launch: Setup, side: str, text: str
) -> None:
    picture = framed(logged(launch), launch, 0.0)
    page = frame_page(picture)
    view = demo_client.get(page).context["v"]
    answer = demo_client.post(page, sides(view, 1, **{"width": "5", side: text}))
    assert answer.status_code == 422
    assert view.marks[0].name in answer.content.decode()
    picture.refresh_from_db()
    assert picture.marks == {}


def test_an_ordinary_picture_is_read_as_one(demo_client: Any, launch: Setup) -> None:
    picture = framed(logged(launch), launch, 0.0)
    page = frame_page(picture)
    view = demo_client.get(page).context["v"]
    assert view.curve == "profile"
    demo_client.post(page, {**sides(view, 1), "curve": "picture"})
    other = demo_client.get(page).context["v"]
    assert other.curve == "picture"
    assert other.says != view.says
    demo_client.post(page, {**sides(view, 1), "curve": "nonsense"})
    assert demo_client.get(page).context["v"].curve == "profile"


def test_marks_that_fit_no_more_begin_anew(demo_client: Any, launch: Setup) -> None:
    picture = framed(logged(launch), launch, 0.0)
    name = spec(launch).readings[0].name
    for wrong in ([0, 0, 0.3, 0.3], [90, 0, 20, 5]):
        TakePicture.objects.filter(pk=picture.pk).update(
            marks={"curve": "profile", "areas": {name: wrong}}
        )
        answer = demo_client.get(frame_page(picture))
        assert answer.status_code == 422
        assert answer.context["v"].marks[0].sides != tuple(wrong)


def test_a_frame_of_a_deleted_setup_says_so(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    picture = framed(logged(launch), launch, 0.0)
    delete_setup(launch)
    answer = demo_client.get(frame_page(picture), follow=True)
    assert "Its setup was deleted" in answer.content.decode()
    assert answer.status_code == 200


# -- plan against actual ---------------------------------------------------------------------------


def actual(client: Any, shoot: Shoot) -> Any:
    return client.get(reverse("actual", args=[shoot.pk]))


def test_the_largest_differences_come_first(
    demo_client: Any, demo: Shoot, launch: Setup, nothing_shot_yet: None
) -> None:
    logged(launch, uid="a")
    logged(launch, uid="b", differed={"iso": "1000"}, why=("cloud",))
    logged(launch, uid="c", differed={"iris": "f/5.6", "white_k": "3200 K"})
    answer = actual(demo_client, demo)
    lines = answer.context["v"].lines
    # ISO 500 to 1000 is a stop; 5600 to 3200 K are 134 mired (10⁶/K), far more than a look off.
    assert [line.name[-1] for line in lines] == ["3", "2", "1"]
    said = [plain(one) for one in lines[1].differences]
    assert said == ["ISO 1000, planned 500: +1.0 stops"]
    assert "134 mired bluer" in plain(lines[0].differences[1])
    assert lines[0].stops == pytest.approx(-1.0, abs=0.05)
    view = answer.context["v"]
    assert (view.as_planned, view.otherwise, view.written, view.planless) == (1, 2, 0, 0)
    (setup,) = view.setups
    assert [one.number for one in setup.takes] == [1, 2, 3]
    chips = [(chip.label, chip.planned, chip.actual) for chip in setup.takes[1].chips]
    assert chips == [("ISO", "500", "1000")]
    text = answer.content.decode()
    assert "Why: cloud" in text
    assert "<svg" in text
    bars = answer.context["v"].bars
    assert [round(bar.stops) for bar in bars] == [-1, 1]


def test_what_the_camera_wrote_otherwise_is_not_set_as_planned(
    demo_client: Any, demo: Shoot, launch: Setup, nothing_shot_yet: None
) -> None:
    """f/16 in the file where f/18 was planned and nothing logged: a third of a stop, and told."""
    take = logged(launch, uid="a")
    picture = framed(take, launch, 0.0)
    view = actual(demo_client, demo).context["v"]
    assert (view.as_planned, view.written) == (1, 0)
    f_number = float(picture.wrote["f_number"])
    for times, told in ((1.03, 0), (1.122, 1)):
        wrote = {**picture.wrote, "f_number": f_number * times}
        TakePicture.objects.filter(pk=picture.pk).update(wrote=wrote)
        view = actual(demo_client, demo).context["v"]
        assert (view.as_planned, view.written) == (1 - told, told)
    # An iris that was closed and an ISO that paid for it: as bright as planned, and still told.
    iso = float(picture.wrote["iso"])
    both = {**picture.wrote, "f_number": f_number * 2**0.5, "iso": iso * 2}
    TakePicture.objects.filter(pk=picture.pk).update(wrote=both)
    view = actual(demo_client, demo).context["v"]
    assert (view.as_planned, view.written) == (0, 1)
    assert {chip.label for chip in view.setups[0].takes[0].chips} == {"Iris", "ISO"}
    TakePicture.objects.filter(pk=picture.pk).update(wrote=wrote)
    view = actual(demo_client, demo).context["v"]
    (chip,) = view.setups[0].takes[0].chips
    assert (chip.label, chip.by, chip.moved) == ("Iris", "camera", "−0.3 stops")
    assert view.setups[0].picture == picture.pk


def test_the_hour_and_what_the_camera_wrote_are_told(
    demo_client: Any, demo: Shoot, launch: Setup, nothing_shot_yet: None
) -> None:
    zone = launch.place.zone
    at = datetime.combine(launch.day.date, launch.planned_time, zone)
    on_time = logged(launch, uid="a", at=at + timedelta(minutes=9))
    late = logged(launch, uid="b", at=at + timedelta(minutes=25))
    early = logged(launch, uid="c", at=at - timedelta(minutes=10))
    logged(launch, uid="d", at=at + timedelta(days=3))
    framed(late, launch, 0.0)
    other = framed(early, launch, 0.0)
    TakePicture.objects.filter(pk=other.pk).update(wrote={**other.wrote, "iso": 1000.0})
    lines = {line.name: line for line in actual(demo_client, demo).context["v"].lines}
    assert lines[str(on_time)].late == ""
    assert plain(lines[str(late)].late) == f"25 min after {launch.planned_time:%H:%M}"
    assert plain(lines[str(early)].late) == f"10 min before {launch.planned_time:%H:%M}"
    assert lines["5A Launch, side pass, take 4"].late == ""
    assert lines[str(late)].wrote == ""
    assert plain(lines[str(early)].wrote) == "the camera wrote +1.0 stops against the log"


def test_a_take_without_its_setup_stands_without_a_plan(
    demo_client: Any, demo: Shoot, launch: Setup, nothing_shot_yet: None
) -> None:
    logged(launch, uid="a", differed={"iso": "1000"})
    delete_setup(launch)
    answer = actual(demo_client, demo)
    assert "Its setup is gone" in answer.content.decode()
    assert answer.context["v"].lines[0].stops is None


def test_the_file_is_plain_and_safe(
    demo_client: Any, demo: Shoot, launch: Setup, nothing_shot_yet: None
) -> None:
    logged(launch, uid="a", differed={"iso": "1000"}, note="=cmd()")
    answer = demo_client.get(reverse("actual-csv", args=[demo.pk]))
    (row,) = csv.DictReader(StringIO(answer.content.decode()))
    assert row["stops from the plan"] == "1.00"
    assert row["note"] == "'=cmd()"
    assert row["what differed"] == "ISO 1000, planned 500: +1.0 stops"
    assert "keel-to-tide-actual.csv" in answer["Content-Disposition"]


def test_no_take_yet(demo_client: Any, demo: Shoot, nothing_shot_yet: None) -> None:
    answer = actual(demo_client, demo)
    assert "No take is logged yet" in answer.content.decode()
    assert "<svg" not in answer.content.decode().partition("<main")[2]


def test_the_demo_shows_both(demo_client: Any, demo: Shoot) -> None:
    assert len(actual(demo_client, demo).context["v"].bars) == 2
    for picture in TakePicture.objects.filter(uid__startswith="frame-"):
        page = page_of(demo_client.get(frame_page(picture)))
        assert len(page.xpath("//*[@data-mark]")) >= 3


def test_who_only_sees_measures_nothing(demo: Shoot, launch: Setup) -> None:
    from fotonomy.shoots.services.crew import name_member
    from tests.web.test_crew import entered

    mate = User.objects.create_user("mate")
    name_member(demo, "mate", "sees")
    picture = framed(logged(launch), launch, 0.0)
    client = entered(mate)
    answer = client.get(frame_page(picture))
    assert answer.status_code == 200
    assert ">Measure<" not in answer.content.decode()
    assert client.post(frame_page(picture), {}).status_code == 403

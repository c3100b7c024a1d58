"""One setup afterwards, pictures side by side, a burst: through the client, with wrong input too."""

from datetime import datetime, timedelta
from io import BytesIO
from typing import Any

import cv2
import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from fotonomy.core.traced_numbers import plain
from fotonomy.field.models import Take, TakePicture
from fotonomy.field.pictures import rate_pictures
from fotonomy.shoots import history
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import LightReading, Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.simulators.run_frames import burst_of_stills
from fotonomy.simulators.stills import still
from fotonomy.takes.metered_vs_estimate import light_read
from fotonomy.takes.presenters.contact_sheet import RowFrame, row_view
from tests.web.test_field import logged
from tests.web.test_ingest import local


def spec(row: Setup) -> Any:
    return spec_of(row, packed_kit(row.shoot))


def add(client: Any, take: Take, raw: bytes, name: str) -> TakePicture:
    client.post(
        reverse("picture-add", args=[take.shoot_id, take.uid]),
        {"picture": SimpleUploadedFile(name, raw)},
    )
    return TakePicture.objects.filter(shoot=take.shoot, take_uid=take.uid).order_by("-pk")[0]


@pytest.fixture
def framed(demo_client: Any, launch: Setup, nothing_shot_yet: None) -> list[TakePicture]:
    """Three takes with a test frame each: as planned, 0.8 darker, and 0.3 brighter but soft."""
    rows = []
    for number, (off, blur) in enumerate(((0.0, 0), (-0.8, 0), (0.3, 3))):
        take = logged(launch, uid=f"t{number}")
        take.shoot = launch.shoot
        raw = still(spec(launch), off, local(take), "A1")
        if blur:
            soft = cv2.GaussianBlur(np.asarray(Image.open(BytesIO(raw))), (0, 0), blur)
            out = BytesIO()
            Image.fromarray(soft).save(out, "JPEG", quality=95)
            raw = out.getvalue()
        rows.append(add(demo_client, take, raw, f"F{number}.jpg"))
    return rows


def row_of(client: Any, shoot: Shoot, *keys: int | str) -> Any:
    query = "&".join(f"p={key}" for key in keys)
    return client.get(f"{reverse('row', args=[shoot.pk])}?{query}", follow=True)


def test_side_by_side_says_who_is_sharpest_and_best_placed(
    demo_client: Any, demo: Shoot, framed: list[TakePicture]
) -> None:
    answer = row_of(demo_client, demo, *(row.pk for row in framed))
    view = answer.context["v"]
    assert [line.frame.name for line in view.lines] == ["F0.jpg", "F1.jpg", "F2.jpg"]
    best = {line.frame.name: line.best for line in view.lines}
    assert "sharpest" not in best["F2.jpg"]
    assert "best placed" in best["F0.jpg"]
    assert "best placed" not in best["F1.jpg"]
    text = answer.content.decode()
    assert "−0.8 stops from the planned level" in text or "−0.9 stops" in text
    assert "fine contrast" in text
    # The order is the one that was asked for.
    turned = row_of(demo_client, demo, *(row.pk for row in framed[::-1]))
    assert [line.frame.name for line in turned.context["v"].lines] == ["F2.jpg", "F1.jpg", "F0.jpg"]


def test_the_keeper_is_chosen_changed_and_undone(
    demo_client: Any, demo: Shoot, framed: list[TakePicture]
) -> None:
    keys = [row.pk for row in framed]

    def ratings() -> list[int]:
        return list(TakePicture.objects.filter(pk__in=keys).values_list("rating", flat=True))

    address = reverse("row-keep", args=[demo.pk])
    answer = demo_client.post(address, {"p": keys, "keep": keys[1]}, follow=True)
    assert "F1.jpg is the keeper" in answer.content.decode()
    assert ratings() == [0, 5, 0]
    assert [line.frame.is_keeper for line in answer.context["v"].lines] == [False, True, False]
    demo_client.post(address, {"p": keys, "keep": keys[0]})
    assert ratings() == [5, 0, 0]
    history.undo(demo)
    assert ratings() == [0, 5, 0]
    demo_client.post(address, {"p": keys, "keep": "99999999"})
    assert ratings() == [0, 0, 0]
    assert rate_pictures(demo, {keys[0]: 77}) == 1
    assert ratings() == [5, 0, 0]


@pytest.mark.parametrize("asked", [[], ["1"], ["no", "−3"], ["99999999999999999999", "2"]])
def test_a_row_of_nothing_is_said(
    demo_client: Any, demo: Shoot, nothing_shot_yet: None, asked: list[str]
) -> None:
    answer = row_of(demo_client, demo, *asked)
    assert "Choose two to 8 pictures" in answer.content.decode()


def test_nine_are_one_too_many_and_two_setups_are_told(
    demo_client: Any, demo: Shoot, launch: Setup, framed: list[TakePicture]
) -> None:
    take = Take.objects.get(uid="t0")
    take.shoot = demo
    for number in range(5):
        framed.append(add(demo_client, take, still(spec(launch), 0.1 * number, local(take), "A1"),
                          f"G{number}.jpg"))  # fmt: skip
    other = logged(demo.setups.exclude(pk=launch.pk).first(), uid="other")
    other.shoot = demo
    framed.append(add(demo_client, other, still(spec(launch), 0, local(take), "A1"), "X.jpg"))
    answer = row_of(demo_client, demo, *(row.pk for row in framed))
    assert len(answer.context["v"].lines) == 8
    assert "Eight at most: 1 left out" in answer.content.decode()
    assert "They are of several setups" in answer.content.decode()


def frame(key: int, **more: Any) -> RowFrame:
    given: dict[str, Any] = {
        "looks_iso": None, "sharpness": None, "off_stops": None, "exposed": None, "rating": 0,
    }  # fmt: skip
    return RowFrame(key, f"f{key}", "take", "good", "", **{**given, **more})


def test_who_is_best_is_told_only_where_somebody_is() -> None:
    same = row_view([frame(1, sharpness=5.0), frame(2, sharpness=5.15)])
    assert same.says.startswith("Nothing that can be measured")
    told = row_view([
        frame(1, looks_iso=800, sharpness=5.0, off_stops=-0.3, exposed=-6.0),
        frame(2, looks_iso=1600, sharpness=5.5, off_stops=0.1, exposed=-5.0),
        frame(3, looks_iso=840, sharpness=5.4, off_stops=0.15, exposed=-6.02),
    ])  # fmt: skip
    assert [line.best for line in told.lines] == [
        ("cleanest",), ("sharpest", "best placed"), ("cleanest", "sharpest", "best placed"),
    ]  # fmt: skip
    assert "+1.0 stops from the first" in told.lines[1].words
    assert not [words for words in told.lines[2].words if "from the first" in words]


def test_a_setup_is_told_three_ways(
    demo_client: Any, demo: Shoot, launch: Setup, framed: list[TakePicture]
) -> None:
    take = Take.objects.get(uid="t1")
    Take.objects.filter(pk=take.pk).update(differed={"iso": "1000"}, why=["cloud"])
    page = demo_client.get(reverse("setup-takes", args=[demo.pk, launch.pk]))
    blocks = page.context["v"].takes
    lines = {line.label: line for line in blocks[1].lines}
    assert (lines["ISO"].planned, lines["ISO"].camera, lines["ISO"].log) == ("500", "500", "1000")
    assert plain(lines["ISO"].words) == "log +1.0 stops"
    assert lines["Iris"].camera == "f/4"
    # What the picture is darker by, and the stop that was set brighter: the light.
    off = float(plain(blocks[1].light).split(", ")[1].split(" ")[0].replace("−", "-"))
    assert off == pytest.approx(-1.8, abs=0.2)
    assert blocks[1].why == "cloud"
    assert "Planned: EV" in page.content.decode()


def test_light_that_was_read_stands_against_the_sky(
    demo_client: Any, demo: Shoot, launch: Setup, nothing_shot_yet: None
) -> None:
    LightReading.objects.all().delete()
    noon = datetime.combine(launch.day.date, datetime.min.time(), launch.place.zone)
    noon += timedelta(hours=12)
    (one,) = [
        LightReading.objects.create(place=launch.place, at=noon, ev100=12.0)
    ]  # fmt: skip
    (read,) = light_read(demo)
    assert read.read_ev100 == one.ev100
    assert 12 < read.estimated_ev100 < 16
    assert read.off_stops == pytest.approx(12 - read.estimated_ev100)
    # 5 June at 42.9° south: the sun culminates about 24.6° high (declination 22.5°).
    assert read.sun_deg == pytest.approx(90 - 42.9 - 22.5, abs=1.5)
    text = demo_client.get(reverse("setup-takes", args=[demo.pk, launch.pk])).content.decode()
    assert "Read at Sat 12:00: EV 12; the sky&#x27;s estimate" in text


@pytest.fixture
def burst(demo_client: Any, demo: Shoot, nothing_shot_yet: None) -> Take:
    """A burst of twenty at twenty a second, brought home."""
    row = demo.setups.get(code="5B")
    row.shoot = demo
    starts = datetime.combine(row.day.date, row.planned_time, row.place.zone)
    take = logged(row, uid="burst", at=starts, length_s=1.0)
    take.shoot = demo
    files = burst_of_stills(spec(row), starts, 20, 20, moment=(8, 11), serial="A1")
    sent = [SimpleUploadedFile(one.name, one.jpeg) for one in files]
    demo_client.post(reverse("home-add", args=[demo.pk]), {"still": sent})
    demo_client.post(reverse("home-match", args=[demo.pk]), {"serial": "A1", "offset": "0:00"})
    return take


def test_a_burst_says_which_to_keep_and_what_fewer_had_done(
    demo_client: Any, demo: Shoot, burst: Take
) -> None:
    address = reverse("burst", args=[demo.pk, burst.pk])
    page = demo_client.get(address)
    view = page.context["v"]
    assert view.clocked
    assert view.head.startswith("20 frames at 20 a second")
    assert "Choose the keeper" in view.lines[-1]
    keeper = view.frames[9].key
    demo_client.post(reverse("burst-keep", args=[demo.pk, burst.pk]), {"keep": keeper})
    view = demo_client.get(address).context["v"]
    assert [one.place for one in view.frames if one.is_keeper] == [10]
    assert "What the keeper shows lasted" in view.lines[-1]
    assert "the moment caught in" in view.lines[0]
    assert sum(one.of_moment for one in view.frames) <= 4
    assert (
        "the run, frame by frame"
        in demo_client.get(reverse("take-edit", args=[demo.pk, burst.pk])).content.decode()
    )


def test_a_burst_of_too_few_or_of_a_deleted_setup_is_said(
    demo_client: Any, demo: Shoot, burst: Take
) -> None:
    address = reverse("burst", args=[demo.pk, burst.pk])
    Setup.objects.filter(code="5B", shoot=demo).delete()
    assert "no plan to hold the burst to" in demo_client.get(address, follow=True).content.decode()
    TakePicture.objects.filter(shoot=demo).delete()
    assert demo_client.get(address, follow=True).status_code == 200

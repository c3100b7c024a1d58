"""A run that came home: looked at a part at a time, what happened in it told, wrong input in words."""

import csv
from datetime import datetime, timedelta
from io import BytesIO, StringIO
from typing import Any

import cv2
import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from fotonomy.core.pictures.frame_measure import Seen
from fotonomy.core.pictures.run import RunFrame, RunPlan, report
from fotonomy.core.traced_numbers import plain
from fotonomy.field.models import FrameSeen, Take, TakePicture
from fotonomy.kit import history as kit_history
from fotonomy.kit.models import Accessory
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.simulators.run_frames import Faults, run_of_stills
from fotonomy.takes import runs
from fotonomy.takes.ingest import Decision, put_to_takes
from fotonomy.takes.kit_suggestions import counter_offer, take_count
from fotonomy.takes.runs import number_of, see_some
from tests.web.test_field import logged
from tests.web.test_pictures import photo

COUNT = 14


def at(name: str, take: Take) -> str:
    return reverse(name, args=[take.shoot_id, take.pk])


@pytest.fixture
def run(demo_client: Any, demo: Shoot, nothing_shot_yet: None) -> Take:
    """A run of fourteen starts, one of them lost, brought home through the page's own door."""
    row = demo.setups.get(code="1A")
    row.shoot = demo
    starts = datetime.combine(row.day.date, row.planned_time, row.place.zone)
    take = logged(row, uid="run", at=starts, length_s=6.0 * COUNT)
    take.shoot = demo
    spec = spec_of(row, packed_kit(demo))
    faults = Faults(knocks={10: (0.006, 0.0)}, flicker={4: 0.08}, lost=frozenset({7}))
    files = run_of_stills(spec, starts, COUNT, 6, faults, serial="B7", first_number=9990)
    sent = [SimpleUploadedFile(one.name, one.jpeg) for one in files]
    demo_client.post(reverse("home-add", args=[demo.pk]), {"still": sent})
    demo_client.post(reverse("home-match", args=[demo.pk]), {"serial": "B7", "offset": "+0:00:00"})
    assert demo.pictures.filter(take_uid="run").count() == COUNT - 1
    return take


def page(client: Any, take: Take) -> tuple[Any, str]:
    answer = client.get(at("run", take))
    return answer.context["v"], answer.content.decode()


def test_what_happened_in_a_run_is_told_with_why_and_what_to_do(
    demo_client: Any, run: Take
) -> None:
    view, text = page(demo_client, run)
    assert (view.frames, view.done, view.found) == (13, 0, None)
    assert "Look at the frames" in text
    answer = demo_client.post(at("run-see", run), follow=True)
    text = answer.content.decode()
    told = [(plain(one.what), one.why) for one in answer.context["v"].events]
    # Put in: 0.08 stop, of which a clipped sky shows less; 0.006 of 3840 px, 23.
    assert [what for what, _ in told] == [
        "Frame 5: 0.07 stop brighter than its neighbours",
        "Frame 8: one frame is missing before it",
        "Frame 10: the picture jumps by 23 px of 3840",
    ]  # fmt: skip
    assert "the numbers in the names go on: the camera did not fire" in told[1][1]
    assert "the camera was knocked" in told[2][1]
    assert (
        "13 frames: 0.5 s on the screen. Its longest stretch without a jump is frames 1 to 7"
        in plain(answer.context["v"].head)
    )
    assert "A frame every 6 s; 1 lost" in text
    assert text.count("<li value=") == 3
    assert 'aria-label="The run, frame by frame. Frame 5' in text


def test_a_script_is_told_how_far_it_is(demo_client: Any, run: Take, monkeypatch: Any) -> None:
    monkeypatch.setattr(runs.see_some, "__defaults__", (5,))
    told = []
    for _ in range(3):
        answer = demo_client.post(at("run-see", run), headers={"Accept": "application/json"})
        told.append(answer.json())
    assert told == [{"done": 5, "of": 13}, {"done": 10, "of": 13}, {"done": 13, "of": 13}]
    # What is looked at in parts is what is looked at as a whole.
    parts = list(FrameSeen.objects.order_by("picture_id").values_list("right_share", "level_stops"))
    FrameSeen.objects.all().delete()
    see_some(run, 99)
    whole = list(FrameSeen.objects.order_by("picture_id").values_list("right_share", "level_stops"))
    assert parts == whole
    assert parts[0][0] is None
    assert all(right is not None for right, _ in parts[1:])


def test_a_frame_that_comes_between_is_looked_at_and_its_neighbour_again(
    demo_client: Any, demo: Shoot, run: Take
) -> None:
    see_some(run, 99)
    rows = runs.frames_of(run)
    put_to_takes(demo, [Decision((rows[5].pk,))], "out")
    assert runs.unseen_of(runs.frames_of(run)) == [5]
    view, _ = page(demo_client, run)
    assert (view.done, view.frames, view.found) == (11, 12, None)
    see_some(run, 99)
    put_to_takes(demo, [Decision((rows[5].pk,), "run")], "in")
    assert runs.unseen_of(runs.frames_of(run)) == [6]


def test_the_run_as_csv(demo_client: Any, run: Take) -> None:
    early = demo_client.get(at("run-csv", run), follow=True)
    assert "Look at its frames first" in early.content.decode()
    see_some(run, 99)
    lines = list(csv.DictReader(StringIO(demo_client.get(at("run-csv", run)).content.decode())))
    assert len(lines) == 13
    assert [line["frame"] for line in lines if line["happened"]] == ["5", "8", "10"]
    assert float(lines[4]["correction in stops"]) == pytest.approx(-0.07, abs=0.01)
    assert float(lines[7]["gap in s"]) == 12
    assert lines[0]["gap in s"] == ""
    assert lines[0]["file"] == "B_9990.jpg"
    assert lines[-1]["file"] == "B_0003.jpg"


def test_too_few_frames_and_a_setup_that_is_gone_are_said(
    demo_client: Any, demo: Shoot, run: Take
) -> None:
    rows = runs.frames_of(run)
    put_to_takes(demo, [Decision(tuple(row.pk for row in rows[2:]))], "out")
    assert (
        "A run has 3 frames at least"
        in demo_client.get(at("run", run), follow=True).content.decode()
    )
    put_to_takes(demo, [Decision(tuple(row.pk for row in rows[2:]), "run")], "in")
    Setup.objects.filter(code="1A", shoot=demo).delete()
    answer = demo_client.get(at("run", run), follow=True).content.decode()
    assert "Its setup was deleted" in answer
    assert demo_client.get(at("run-csv", run), follow=True).status_code == 200


def test_files_without_a_clock_or_of_another_shape_are_told_of_as_far_as_they_go(
    demo_client: Any, demo: Shoot, run: Take
) -> None:
    rows = runs.frames_of(run)
    put_to_takes(demo, [Decision(tuple(row.pk for row in rows))], "out")
    plain = [SimpleUploadedFile(f"x{k}.jpg", photo(seed=k)) for k in range(3)]
    odd = SimpleUploadedFile("tall.jpg", photo(300, 500, seed=9))
    demo_client.post(reverse("home-add", args=[demo.pk]), {"still": [*plain, odd]})
    new = TakePicture.objects.filter(shoot=demo).order_by("-pk")[:4]
    put_to_takes(demo, [Decision(tuple(row.pk for row in new), "run")], "by hand")
    demo_client.post(at("run-see", run))
    view, text = page(demo_client, run)
    assert view.whole
    assert "No clock in its files: lost frames cannot be told" in text


@pytest.mark.parametrize(
    ("name", "number"),
    [("B_4127.jpg", 4127), ("IMG 12 (0042).JPG", 42), ("DSC00017-edit.tif", 17), ("moon.png", None),
     ("2027-06-05.jpg", 5)],
)  # fmt: skip
def test_the_number_of_a_file_is_the_last_in_its_name(name: str, number: int | None) -> None:
    assert number_of(name) == number


def test_the_demo_has_its_first_run_home(demo_client: Any, demo: Shoot) -> None:
    take = Take.objects.get(shoot=demo, uid="demo-1")
    view, _ = page(demo_client, take)
    assert view.whole
    assert [plain(one.what).partition(": ")[2] for one in view.events] == [
        "0.07 stop brighter than its neighbours", "0.04 stop brighter than its neighbours",
        "one frame is missing before it", "2 frames are missing before it",
        "the light steps 0.28 stop brighter and stays", "the picture jumps by 28 px of 3840",
        "the picture jumps by 14 px of 3840",
    ]  # fmt: skip
    assert timedelta(minutes=25) <= timedelta(seconds=take.length_s or 0)


def test_advice_goes_into_the_kit_once_and_only_where_it_follows(
    demo_client: Any, demo: Shoot, run: Take
) -> None:
    def told() -> str:
        return demo_client.post(at("run-advice", run), follow=True).content.decode()

    # Not looked at yet; then lost too early to blame a counter.
    assert "says nothing of its remote" in told()
    see_some(run, 99)
    assert demo_client.get(at("run", run)).context["offer"] is None
    assert "says nothing of its remote" in told()
    take = Take.objects.create(
        shoot=demo, uid="long", setup_key=run.setup_key, setup_name="1A", number=2,
        verdict="good", at=run.at, kept_at=run.kept_at,
    )  # fmt: skip
    take.shoot = demo
    row = demo.setups.get(pk=run.setup_key)
    row.shoot = demo
    remote = Accessory.objects.get(pk__in=row.thing_ids, sort=Accessory.REMOTE)
    Accessory.objects.filter(pk=remote.pk).update(sure_count=None)
    for place, gap in ((19, None), (20, 20), (33, 33)):
        at_s = [6.0 * k + (12 if k >= place else 0) for k in range(40)]
        frames = [RunFrame(Seen(0.0, 0.0, 0.0, 0.0, 0.0), one, -5.0, k, 0.1)
                  for k, one in enumerate(at_s)]  # fmt: skip
        found = report(frames, RunPlan(6, 40, 25, 3840))
        offer = counter_offer(row, found)
        assert (offer[1] if offer else None) == gap
    assert take_count(row, found) == (remote, 33)
    remote.refresh_from_db()
    assert remote.sure_count == 33
    assert counter_offer(row, found) is None
    kit_history.undo(demo.owner)
    remote.refresh_from_db()
    assert remote.sure_count is None


def test_the_trail_of_stars_is_told_as_far_as_a_copy_goes(
    demo_client: Any, demo: Shoot, nothing_shot_yet: None
) -> None:
    row = demo.setups.get(code="8A")
    row.shoot = demo
    take = logged(row, uid="night")
    take.shoot = demo
    sky = np.full((270, 480, 3), 24, dtype=np.uint8)
    for x, y in ((60, 60), (200, 150), (400, 220)):
        cv2.line(sky, (x, y), (x + 5, y), (230, 230, 230), 1)
    for number in range(3):
        out = BytesIO()
        Image.fromarray(sky).save(out, "JPEG", quality=95)
        sent = SimpleUploadedFile(f"S{number}.jpg", out.getvalue() + bytes(number))
        demo_client.post(reverse("home-add", args=[demo.pk]), {"still": sent})
    keys = tuple(demo.pictures.values_list("pk", flat=True))
    put_to_takes(demo, [Decision(keys, "night")], "all")
    see_some(take, 9)
    (line,) = [one for one in page(demo_client, take)[0].lines if "stars trail" in one]
    # Six pixels of 480 are 48 of 3840, and a copy tells four.
    assert float(line.split("trail ")[1].split(" px")[0]) == pytest.approx(48, abs=4)
    assert "planned" in line
    assert "a copy tells 4 px" in line

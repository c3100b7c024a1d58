"""Stills brought home: imported, matched by a clock that is off, put by hand, dropped."""

from datetime import datetime, timedelta
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from lxml import html

from fotonomy.core.errors import RuleError
from fotonomy.field.models import PictureData, Take, TakePicture
from fotonomy.kit.models import Body
from fotonomy.shoots import history
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.takes import ingest as services
from fotonomy.takes.ingest import COPY_PX
from fotonomy.takes.presenters.ingest import offset_text, read_offset
from tests.web.test_field import logged
from tests.web.test_pictures import Ratio, photo

pytestmark = pytest.mark.usefixtures("nothing_shot_yet")
# Exposure time, f-number, ISO, when it was taken, number of the camera (CIPA DC-008).
TIME, F_NUMBER, ISO, TAKEN, ZONE, SERIAL = 33434, 33437, 34855, 36867, 36881, 42033
# Of the camera, in the first directory of the file.
MODEL = 272


def still(at: datetime | None, serial: str = "SN1", seed: int = 1, **more: Any) -> bytes:
    tags: dict[int, Any] = {TIME: Ratio(1, 50), F_NUMBER: Ratio(4, 1), ISO: 500, SERIAL: serial}
    if at is not None:
        tags[TAKEN] = f"{at:%Y:%m:%d %H:%M:%S}"
    if "zone" in more:
        tags[ZONE] = more["zone"]
    if "model" in more:
        tags[MODEL] = more["model"]
    return photo(exif=tags, seed=seed)


def at(name: str, shoot: Shoot) -> str:
    return reverse(name, args=[shoot.pk])


def bring(client: Any, shoot: Shoot, *raws: bytes) -> Any:
    files = [SimpleUploadedFile(f"IMG_{k:04}.jpg", raw) for k, raw in enumerate(raws)]
    return client.post(at("home-add", shoot), {"still": files}, follow=True)


@pytest.fixture
def takes(launch: Setup) -> list[Take]:
    """Four takes of an afternoon, at uneven distances."""
    start = datetime.combine(launch.day.date, launch.planned_time, launch.place.zone)
    minutes = (0, 7, 19, 44)
    return [
        logged(launch, uid=f"t-{k}", at=start + timedelta(minutes=m), length_s=20.0)
        for k, m in enumerate(minutes)
    ]


def local(take: Take) -> datetime:
    return take.at.astimezone(take.shoot.main_place.zone).replace(tzinfo=None)


def shown(client: Any, shoot: Shoot) -> Any:
    return client.get(at("takes-home", shoot)).context["v"]


def test_a_camera_whose_clock_is_off_is_put_right(
    demo_client: Any, demo: Shoot, takes: list[Take]
) -> None:
    """An hour and two minutes ahead: the summer time nobody set back."""
    off = timedelta(hours=1, minutes=2)
    answer = bring(demo_client, demo, *(still(local(t) + off, seed=k) for k, t in enumerate(takes)))
    assert "4 pictures imported" in answer.content.decode()
    (camera,) = shown(demo_client, demo).cameras
    assert (camera.name, camera.count) == ("Camera SN1", 4)
    assert camera.how == "4 of 4 pictures agree with the log"
    assert abs(read_offset(camera.offset) - off.total_seconds()) <= 30
    assert [one.count for one in shown(demo_client, demo).groups] == [1, 1, 1, 1]
    demo_client.post(at("home-match", demo), {"serial": "SN1", "offset": camera.offset})
    assert [row.take_uid for row in demo.pictures.order_by("wrote__taken")] == [
        "t-0", "t-1", "t-2", "t-3",
    ]  # fmt: skip
    view = shown(demo_client, demo)
    assert (view.placed, view.groups, view.cameras) == (4, (), ())
    # All of it is one step.
    history.undo(demo)
    assert not demo.pictures.exclude(take_uid="").exists()


def test_a_typed_offset_goes_before_the_one_that_was_found(
    demo_client: Any, demo: Shoot, takes: list[Take]
) -> None:
    bring(demo_client, demo, *(still(local(t), seed=k) for k, t in enumerate(takes)))
    # Seven minutes ahead, somebody says: then each picture was taken at the take before.
    demo_client.post(at("home-match", demo), {"serial": "SN1", "offset": "+0:07"})
    found = {row.wrote["taken"]: row.take_uid for row in demo.pictures.all()}
    assert found[local(takes[1]).isoformat()] == "t-0"
    assert found[local(takes[0]).isoformat()] == ""


def test_pictures_that_say_their_zone_need_no_guess(
    demo_client: Any, demo: Shoot, takes: list[Take]
) -> None:
    """EXIF 2.31, OffsetTime: UTC on a camera in Hobart, ten hours behind in June (tz database)."""
    off = timedelta(hours=-10)
    bring(
        demo_client,
        demo,
        *(still(local(t) + off, zone="+00:00", seed=k) for k, t in enumerate(takes)),
    )
    (camera,) = shown(demo_client, demo).cameras
    assert (camera.offset, camera.how) == ("−10:00:00", "as its pictures say themselves")
    demo_client.post(at("home-match", demo), {})
    assert demo.pictures.exclude(take_uid="").count() == 4


def test_two_cameras_have_clocks_of_their_own(
    demo_client: Any, demo: Shoot, takes: list[Take]
) -> None:
    hour = timedelta(hours=1)
    bring(demo_client, demo, *(still(local(t) + hour, "A", seed=k) for k, t in enumerate(takes)))
    bring(
        demo_client, demo, *(still(local(t) - hour, "B", seed=9 + k) for k, t in enumerate(takes))
    )
    first, second = shown(demo_client, demo).cameras
    assert abs(read_offset(first.offset) - 3600) <= 30
    assert abs(read_offset(second.offset) + 3600) <= 30
    demo_client.post(at("home-match", demo), {})
    assert [demo.pictures.filter(take_uid=f"t-{k}").count() for k in range(4)] == [2, 2, 2, 2]


def test_what_does_not_match_is_offered_and_put_by_hand(
    demo_client: Any, demo: Shoot, takes: list[Take]
) -> None:
    bring(demo_client, demo, *(still(local(t), seed=k) for k, t in enumerate(takes)))
    bring(
        demo_client,
        demo,
        still(local(takes[3]) + timedelta(minutes=20), seed=77),
        still(None, seed=78),
    )
    demo_client.post(at("home-match", demo), {})
    late, without = shown(demo_client, demo).groups
    assert (without.when, without.count) == ("no clock", 1)
    # A setup that was planned near then is the first choice; without a clock nobody guesses.
    chosen = next(one for one in late.options if one.chosen)
    assert chosen.value == f"new-{takes[0].setup_key}"
    assert "nothing was logged then; 5A is nearest, planned 15:20" in late.why
    assert next(one for one in without.options if one.chosen).value == ""
    decide(demo_client, demo, {without: "t-2", late: ""})
    assert TakePicture.objects.get(pk=int(without.keys)).take_uid == "t-2"
    assert TakePicture.objects.get(pk=int(late.keys)).take_uid == ""
    decide(demo_client, demo, {late: "no-such-take"})
    decide(demo_client, demo, {late: "new-999999"})
    assert TakePicture.objects.get(pk=int(late.keys)).take_uid == ""


def decide(client: Any, shoot: Shoot, choices: dict[Any, str]) -> Any:
    """What the page sends: every group with where it goes."""
    sent: dict[str, list[str]] = {"keys": [], "to-group": [], "at": [], "length": []}
    for group, to in choices.items():
        for name, value in (
            ("keys", group.keys), ("to-group", to), ("at", group.at_s), ("length", group.length_s)
        ):  # fmt: skip
            sent[name].append(value)
    return client.post(at("home-match", shoot), {**sent, "do": "shown"}, follow=True)


def test_a_new_take_is_what_its_pictures_say_and_all_of_it_one_step(
    demo_client: Any, demo: Shoot, takes: list[Take]
) -> None:
    later = local(takes[3]) + timedelta(minutes=30)
    bring(demo_client, demo, *(still(local(t), seed=k) for k, t in enumerate(takes)))
    files = [still(later + timedelta(seconds=6 * k), seed=20 + k) for k in range(6)]
    bring(demo_client, demo, *files, still(later + timedelta(hours=2), seed=40))
    groups = shown(demo_client, demo).groups
    assert [one.count for one in groups] == [1, 1, 1, 1, 6, 1]
    assert "a run: one every 6 s" in groups[4].why
    choices = {one: next(o.value for o in one.options if o.chosen) for one in groups}
    choices[groups[5]] = "-"
    count = demo.takes.count()
    answer = decide(demo_client, demo, choices)
    assert "10 pictures are matched to takes. 1 new take. 1 left out." in answer.content.decode()
    new = demo.takes.get(note="logged from its pictures")
    assert new.at.astimezone(demo.main_place.zone).replace(tzinfo=None) == later
    assert (new.length_s, new.number) == (30.0, 5)
    # The camera wrote 1/50, f/4 and ISO 500: what differs from the plan stands as set.
    assert set(new.differed) <= {"shutter", "iris", "iso"}
    view = shown(demo_client, demo)
    assert (view.placed, view.left_out, view.groups) == (10, 1, ())
    history.undo(demo)
    assert demo.takes.count() == count
    assert {row.take_uid for row in demo.pictures.all()} == {""}
    history.redo(demo)
    assert demo.takes.count() == count + 1
    demo_client.post(at("home-back", demo))
    assert shown(demo_client, demo).left_out == 0


def test_ticked_pictures_go_where_one_choice_says(
    demo_client: Any, demo: Shoot, takes: list[Take]
) -> None:
    bring(demo_client, demo, *(still(local(t), seed=k) for k, t in enumerate(takes)))
    first, second = list(demo.pictures.order_by("wrote__taken"))[:2]
    sent = {"do": "chosen", "to": "t-3", "chosen": [first.pk, second.pk], "keys": ["1"]}
    demo_client.post(at("home-match", demo), sent)
    assert demo.pictures.filter(take_uid="t-3").count() == 2
    sent = {"do": "chosen", "to": f"new-{takes[0].setup_key}", "chosen": [first.pk], "keys": ["1"]}
    demo_client.post(at("home-match", demo), sent)
    new = demo.takes.get(note="logged from its pictures")
    assert demo.pictures.get(take_uid=new.uid) == first
    assert new.at == takes[0].at


def test_a_camera_without_a_number_is_known_by_its_model(
    demo_client: Any, demo: Shoot, takes: list[Take]
) -> None:
    bring(
        demo_client, demo,
        *(still(local(t), "", seed=k, model="Phone") for k, t in enumerate(takes)),
    )  # fmt: skip
    (camera,) = shown(demo_client, demo).cameras
    phone = Body.objects.get(owner=demo.owner, name="Phone")
    assert (camera.serial, camera.asks) == ("Phone", "The files say Phone. Is that your Phone?")
    assert camera.body_id == phone.pk
    demo_client.post(at("home-body", demo), {"serial": "Phone", "body": phone.pk})
    (camera,) = shown(demo_client, demo).cameras
    assert (camera.asks, camera.body_id) == ("", phone.pk)


def test_pictures_of_the_second_day_go_to_the_takes_of_that_day(
    demo_client: Any, demo: Shoot, takes: list[Take], launch: Setup
) -> None:
    """The same hours on two days, and a clock that is an hour ahead: the date decides."""
    for k, take in enumerate(takes):
        logged(launch, uid=f"n-{k}", at=take.at + timedelta(days=1), length_s=20.0)
    off = timedelta(days=1, hours=1)
    bring(demo_client, demo, *(still(local(t) + off, seed=k) for k, t in enumerate(takes)))
    demo_client.post(at("home-match", demo), {})
    found = {row.take_uid for row in demo.pictures.all()}
    assert found == {"n-0", "n-1", "n-2", "n-3"}


def test_a_still_is_a_small_copy_and_there_once(
    demo_client: Any, demo: Shoot, takes: list[Take]
) -> None:
    raw = photo(3000, 2000, exif={TAKEN: "2027:06:05 15:20:00"})
    headers = {"Accept": "application/json"}
    for _ in range(2):
        sent = {"still": SimpleUploadedFile("a.jpg", raw), "uid": "id-1"}
        assert demo_client.post(at("home-add", demo), sent, headers=headers).json()["kept"] == 1
    row, data = TakePicture.objects.get(), PictureData.objects.get()
    assert (row.width, row.height) == (3000, 2000)
    assert len(data.jpeg) < 200_000
    assert COPY_PX == 480
    # Without scripts the file itself is its id.
    bring(demo_client, demo, raw)
    bring(demo_client, demo, raw)
    assert (TakePicture.objects.count(), PictureData.objects.count()) == (2, 1)
    # Taking in is no step of the plan's history.
    assert not demo.changes.filter(label__contains="picture").exists()


def test_wrong_files_are_told_and_the_rest_is_taken(demo_client: Any, demo: Shoot, takes: list[Take], monkeypatch: Any) -> None:  # fmt: skip
    answer = bring(demo_client, demo, b"nonsense", still(local(takes[0])), photo()[:2000])
    text = answer.content.decode()
    assert "1 picture imported" in text
    assert text.count("Not taken.") == 2
    assert (
        "Choose pictures first"
        in demo_client.post(at("home-add", demo), follow=True).content.decode()
    )
    headers = {"Accept": "application/json"}
    answer = demo_client.post(
        at("home-add", demo), {"still": SimpleUploadedFile("a.jpg", b"x")}, headers=headers
    )
    assert answer.status_code == 422
    assert "a.jpg" in answer.json()["words"]
    monkeypatch.setattr(services, "MOST_PICTURES", 1)
    assert "1 pictures at most" in bring(demo_client, demo, still(None, seed=5)).content.decode()


@pytest.mark.parametrize("text", ["", "soon", "10", "1:75", "1:00:61", "49:00", "-48:00:01"])
def test_wrong_offsets_are_said_beside_their_field(
    demo_client: Any, demo: Shoot, takes: list[Take], text: str
) -> None:
    bring(demo_client, demo, still(local(takes[0])))
    answer = demo_client.get(at("takes-home", demo), {"serial": "SN1", "offset": text})
    assert answer.status_code == 422
    page = html.fromstring(answer.content.decode())
    (field,) = page.xpath("//input[@name='offset'][@aria-invalid='true']")
    assert field.get("value") == text
    said = page.xpath(f"//*[@id='{field.get('aria-describedby')}']")[0].text_content()
    assert "Hours and minutes such as" in said
    sent = {"serial": "SN1", "offset": text}
    answer = demo_client.post(at("home-match", demo), sent, follow=True)
    assert "Its clock: Hours and minutes such as" in answer.content.decode()
    assert not demo.pictures.exclude(take_uid="").exists()


def test_offsets_as_text_and_back() -> None:
    for seconds in (0, 1, 59, 3600, 36_121, -1, -27_000, 172_800):
        assert read_offset(offset_text(seconds)) == seconds
    assert offset_text(-0.2) == "+0:00:00"
    assert read_offset("-0:30") == -1800
    with pytest.raises(RuleError):
        read_offset("1:2")


def test_what_is_dropped_leaves_no_copy_that_nobody_uses(
    demo_client: Any, demo: Shoot, takes: list[Take]
) -> None:
    bring(demo_client, demo, *(still(local(t), seed=k) for k, t in enumerate(takes)))
    bring(demo_client, demo, still(None, seed=50))
    demo_client.post(at("home-match", demo), {})
    # One that was of a take and is removed: undo has to bring it back whole.
    removed = demo.pictures.get(take_uid="t-0")
    demo_client.post(reverse("picture-drop", args=[demo.pk, removed.pk]))
    demo_client.post(at("home-drop", demo), {})
    assert demo.pictures.filter(take_uid="").count() == 1
    demo_client.post(at("home-drop", demo), {"sure": "1"})
    assert not demo.pictures.filter(take_uid="").exists()
    assert PictureData.objects.count() == 4
    history.undo(demo)
    assert demo_client.get(reverse("picture", args=[demo.pk, removed.pk])).status_code == 200


def test_nothing_brought_yet(demo_client: Any, demo: Shoot) -> None:
    answer = demo_client.get(at("takes-home", demo))
    assert answer.status_code == 200
    assert "its clock is ahead by" not in answer.content.decode()
    assert (
        "No picture was shot near"
        in demo_client.post(at("home-match", demo), follow=True).content.decode()
    )

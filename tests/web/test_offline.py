"""What a phone keeps and what it sends later: worked out ahead, once each, in order, with words."""

import json
import uuid
from datetime import timedelta
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from fotonomy.core.field.relight import HIGHEST_THIRDS, LOWEST_THIRDS, relit
from fotonomy.core.photometry.exposure_value import ev100_of
from fotonomy.core.spec.changes import applied
from fotonomy.field.models import Take
from fotonomy.field.presenters.offline_bundle import step_of
from fotonomy.shoots import history
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import LightReading, Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.services.setups import delete_setup
from fotonomy.web.limits import SENT_AT_ONCE

# The log and the crew begin empty here.
pytestmark = pytest.mark.usefixtures("nothing_shot_yet")


def post(client: Any, shoot: Shoot, *entries: Any, **more: Any) -> Any:
    data = {"sent_at": timezone.now().isoformat(), "entries": list(entries), **more}
    return client.post(
        reverse("field-send", args=[shoot.pk]), json.dumps(data), content_type="application/json"
    )


def take(row: Setup, **given: Any) -> dict[str, Any]:
    plain = {
        "uid": str(uuid.uuid4()), "kind": "take", "setup": row.pk, "name": "5A Launch, side pass",
        "verdict": "good", "at": timezone.now().isoformat(), "planned": {"iris": "f/4"},
        "differed": {}, "why": [], "clip": "", "card": "", "length": "", "note": "",
    }  # fmt: skip
    return {**plain, **given}


def test_a_day_is_worked_out_as_the_planner_would(demo_client: Any, demo: Shoot) -> None:
    day = demo.first_day
    answer = demo_client.get(reverse("field-ahead", args=[demo.pk, day.pk]))
    data = answer.json()
    assert len(data["setups"]) == 10
    assert len(answer.content) < 300_000
    packed = packed_kit(demo)
    for key, kept in data["setups"].items():
        row = demo.setups.select_related("place", "day").get(pk=key)
        row.shoot = demo
        spec = spec_of(row, packed)
        base = ev100_of(spec.light)
        assert kept["ev"] == round(base, 2)
        assert len(kept["steps"]) == HIGHEST_THIRDS - LOWEST_THIRDS + 1
        for third, step in zip(
            range(LOWEST_THIRDS, HIGHEST_THIRDS + 1), kept["steps"], strict=True
        ):
            assert step == step_of(relit(spec, base + third / 3))


def test_what_a_way_shows_is_what_the_card_would(demo_client: Any, launch: Setup) -> None:
    spec = spec_of(launch, packed_kit(launch.shoot))
    found = relit(spec, ev100_of(spec.light) - 1)
    for way in found.ways:
        made = applied(spec, way.changes)
        shown = dict(way.shown)
        if made.iso != spec.iso:
            assert shown["ISO"] == str(made.iso)
        if made.iris != spec.iris:
            assert shown["Iris"] == f"f/{made.iris:g}"
        assert {"ISO", "Iris", "ND", "Shutter", "Frame rate"} >= set(shown)


def test_every_page_of_the_day_is_named_to_be_kept(demo_client: Any, demo: Shoot) -> None:
    day = demo.first_day
    kept = demo_client.get(reverse("field-ahead", args=[demo.pk, day.pk])).json()["keep"]
    assert len(kept) == len(set(kept)) == 2 + 3 * 10
    for address in kept:
        assert demo_client.get(address).status_code == 200


def test_what_waited_is_kept_once_and_in_order(
    demo_client: Any, demo: Shoot, launch: Setup
) -> None:
    entries = [take(launch, clip=f"C{at}") for at in range(3)]
    for _ in range(2):
        results = post(demo_client, demo, *entries).json()["results"]
        assert [one["kept"] for one in results] == [True] * 3
        assert [one["uid"] for one in results] == [one["uid"] for one in entries]
    assert list(Take.objects.order_by("number").values_list("clip", flat=True)) == [
        "C0",
        "C1",
        "C2",
    ]
    # Each is a step that can be taken back.
    assert history.undo(demo) is not None
    assert Take.objects.count() == 2


def test_two_hundred_wait(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    """As many as a page sends at once; of more the rest waits for the next time."""
    for count, answered in ((SENT_AT_ONCE, SENT_AT_ONCE), (SENT_AT_ONCE + 1, SENT_AT_ONCE)):
        entries = [take(launch) for _ in range(count)]
        results = post(demo_client, demo, *entries).json()["results"]
        assert len(results) == answered
        assert {one["kept"] for one in results} == {True}
    assert Take.objects.count() == 2 * SENT_AT_ONCE


def test_a_phone_of_another_time_is_put_right(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    shot = timezone.now() - timedelta(days=30)
    off = timedelta(hours=-7)
    post(
        demo_client, demo, take(launch, at=(shot + off).isoformat()),
        sent_at=(timezone.now() + off).isoformat(),
    )  # fmt: skip
    assert abs((Take.objects.get().at - shot).total_seconds()) < 3


def test_a_reading_of_a_phone_of_another_time_is_put_right_too(
    demo_client: Any, demo: Shoot, launch: Setup
) -> None:
    read, off = timezone.now() - timedelta(minutes=20), timedelta(hours=9)
    post(
        demo_client, demo,
        {"uid": "d", "kind": "light", "setup": launch.pk, "read": "EV 9", "at": (read + off).isoformat()},
        sent_at=(timezone.now() + off).isoformat(),
    )  # fmt: skip
    kept = LightReading.objects.get(place=launch.place, ev100=9.0)
    assert abs((kept.at - read).total_seconds()) < 3


def test_light_that_was_read_is_kept_once(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    spec = spec_of(launch, packed_kit(demo))
    way = relit(spec, ev100_of(spec.light) - 1).ways[0]
    before = LightReading.objects.count()
    entry = {"uid": uuid.uuid4().hex, "kind": "light", "setup": launch.pk, "read": "−1",
             "way": way.words, "at": timezone.now().isoformat()}  # fmt: skip
    for _ in range(3):
        (result,) = post(demo_client, demo, entry).json()["results"]
        assert result["kept"]
    launch.refresh_from_db()
    assert launch.light == {"ev100": 10.6}
    assert LightReading.objects.count() == before + 1
    assert "kept already" in result["words"]


def test_a_way_that_is_gone_keeps_the_reading(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    iso = launch.iso
    entry = {"uid": "a", "kind": "light", "setup": launch.pk, "read": "EV 9", "way": "ISO 77"}
    (result,) = post(demo_client, demo, entry).json()["results"]
    assert "is not there any more" in result["words"]
    launch.refresh_from_db()
    assert (launch.light, launch.iso) == ({"ev100": 9.0}, iso)


def test_what_others_changed_meanwhile_stays(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    Setup.objects.filter(pk=launch.pk).update(title="Launch, from the quay", white_k=4800)
    spec = spec_of(launch, packed_kit(demo))
    way = next(w for w in relit(spec, ev100_of(spec.light) - 1).ways if w.words.startswith("ISO"))
    post(
        demo_client,
        demo,
        {"uid": "b", "kind": "light", "setup": launch.pk, "read": "−1", "way": way.words},
    )
    launch.refresh_from_db()
    assert (launch.title, launch.white_k, f"ISO {launch.iso}") == (
        "Launch, from the quay",
        4800,
        way.words,
    )


def test_a_take_of_a_deleted_setup_is_kept_and_light_says_so(
    demo_client: Any, demo: Shoot, launch: Setup
) -> None:
    key = launch.pk
    delete_setup(launch)
    results = post(
        demo_client, demo, take(Setup(pk=key)),
        {"uid": "c", "kind": "light", "setup": key, "read": "−1"},
    ).json()["results"]  # fmt: skip
    assert [one["kept"] for one in results] == [True, False]
    assert "deleted meanwhile" in results[1]["words"]
    assert Take.objects.get().setup_name == "5A Launch, side pass"


@pytest.mark.parametrize(
    "wrong",
    [{"kind": "dance"}, {"verdict": "superb"}, {"uid": ""}, {"uid": 5}, {"setup": "5A"},
     {"setup": -1}, {"setup": True}, {"setup": 2**70}, {"length": "soon"}, {"why": "cloud"},
     {"why": [5]}, {"note": "x" * 2000}, {"clip": 7}, {"planned": []}, {"differed": {"iris": 5}},
     {"note": "\x00"}, {"kind": ["take"]}],
)  # fmt: skip
def test_entries_that_are_none_are_refused_with_words(
    demo_client: Any, demo: Shoot, launch: Setup, wrong: dict[str, Any]
) -> None:
    results = post(demo_client, demo, take(launch, **wrong), take(launch)).json()["results"]
    assert [one["kept"] for one in results] == [False, True]
    assert len(results[0]["words"]) > 5
    assert Take.objects.count() == 1


@pytest.mark.parametrize("raw", ["", "[]", "{", '{"entries": 5}', "[" * 100_000])
def test_what_is_no_sending_is_refused(demo_client: Any, demo: Shoot, raw: str) -> None:
    address = reverse("field-send", args=[demo.pk])
    assert demo_client.post(address, raw, content_type="application/json").status_code == 400
    odd = json.dumps({"entries": [None, 5, [], "take", {}], "sent_at": "never"})
    results = demo_client.post(address, odd, content_type="application/json").json()["results"]
    assert [one["kept"] for one in results] == [False] * 5


def test_news_name_what_changed_and_bring_a_token(
    demo_client: Any, demo: Shoot, launch: Setup
) -> None:
    address = reverse("field-news", args=[demo.pk])
    first = demo_client.get(address).json()
    assert first["changes"] == []
    assert first["token"]
    post(demo_client, demo, take(launch))
    news = demo_client.get(address, {"since": first["newest"]}).json()
    assert news["changes"] == ["5A Launch, side pass, take 1 logged"]
    assert (news["plan"], news["newest"] > first["newest"]) == (False, True)
    for odd in ("x", "-1", "9" * 30):
        assert demo_client.get(address, {"since": odd}).json()["changes"] == []


def test_a_stranger_and_nobody_get_nothing(demo: Shoot, launch: Setup, stranger: User) -> None:
    client = Client()
    for name, args in (("field-ahead", [demo.pk, launch.day_id]), ("field-news", [demo.pk])):
        assert client.get(reverse(name, args=args)).status_code == 302
    assert post(client, demo, take(launch)).status_code == 302
    client.force_login(stranger)
    for name, args in (("field-ahead", [demo.pk, launch.day_id]), ("field-news", [demo.pk])):
        assert client.get(reverse(name, args=args)).status_code == 404
    assert post(client, demo, take(launch)).status_code == 404
    assert not Take.objects.exists()


def test_without_its_token_nothing_is_taken(demo: Shoot, launch: Setup) -> None:
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(demo.owner)
    assert post(strict, demo, take(launch)).status_code == 403
    assert not Take.objects.exists()


def test_the_worker_names_the_files_of_the_field_pages(client: Any) -> None:
    answer = client.get("/field-worker.js")
    assert answer["Content-Type"].startswith("text/javascript")
    assert answer["Service-Worker-Allowed"] == "/"
    source = answer.content.decode()
    assert source.startswith('importScripts("/static/vendor/workbox.min.js")')
    for name in ("field.css", "field.js", "pages.css", "drill-offline.js", "archivo.woff2"):
        assert name in source
    # The same files are the same worker, whichever process is asked.
    assert client.get("/field-worker.js").content == answer.content
    manifest = client.get("/manifest.webmanifest").json()
    assert manifest["display"] == "standalone"
    assert client.get(manifest["icons"][0]["src"]).status_code == 200


def test_a_reading_that_is_sent_twice_at_once_is_kept_once(
    demo_client: Any, demo: Shoot, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A page that is opened and the network that comes back both send: one waits for the other."""
    row = demo.setups.get(code="5A")
    entry = {"uid": "l-9", "kind": "light", "setup": row.pk, "read": "-1", "way": ""}
    address = reverse("field-send", args=[demo.pk])
    real, waits = history.lock, [True]

    def lock(shoot: Shoot) -> None:
        # While this one waits for the lock, the other is through.
        if waits:
            waits.clear()
            demo_client.post(address, {"entries": [entry]}, "application/json")
        real(shoot)

    monkeypatch.setattr(history, "lock", lock)
    answer = demo_client.post(address, {"entries": [entry]}, "application/json").json()
    assert answer["results"][0]["words"] == "the light is kept already"
    was = row.light["ev100"]
    row.refresh_from_db()
    assert row.light["ev100"] == pytest.approx(was - 1)


@pytest.mark.parametrize("text", ["\x00", "wind \ud800"])
def test_what_no_page_can_show_is_refused_from_a_phone(
    demo_client: Any, demo: Shoot, text: str
) -> None:
    row = demo.setups.get(code="5A")
    entry = {"uid": "t-9", "kind": "take", "setup": row.pk, "verdict": "good", "why": [text]}
    answer = demo_client.post(
        reverse("field-send", args=[demo.pk]), json.dumps({"entries": [entry]}), "application/json"
    )
    (found,) = answer.json()["results"]
    assert not found["kept"]
    assert "cannot be kept" in found["words"]
    assert list(found["errors"]) == ["why"]

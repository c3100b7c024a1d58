"""Undo and redo field by field: two windows on one shoot, and nothing lost between them."""

import json
from typing import Any

import pytest
from django.urls import reverse
from django.utils import timezone
from hypothesis import given
from hypothesis import strategies as st
from lxml import html

from fotonomy.field.services import TakeEntry, change_take, log_take
from fotonomy.kit.models import Lens
from fotonomy.shoots import history
from fotonomy.shoots.field_paths import moved, opened, setting_of, value_at, with_values
from fotonomy.shoots.mapping import snapshot
from fotonomy.shoots.models import Actor, Setup, Shoot
from fotonomy.shoots.views.access import ACTION_HEADER, CLIENT_HEADER
from fotonomy.shoots.views.get_or_404 import AGAIN_HEADER, FRAGMENT_HEADER, SEEN_HEADER
from tests.properties import examples


def edit(client: Any, row: Setup, window: str = "one", **fields: Any) -> Any:
    """A change made in a window of this name."""
    answer = client.post(
        row.get_absolute_url(), fields, headers={FRAGMENT_HEADER: "wide", CLIENT_HEADER: window}
    )
    assert answer.status_code == 200, answer.content.decode()[:500]
    return answer


def step(client: Any, row: Setup, way: str, window: str = "one", **fields: Any) -> str:
    """Undo or redo in a window; the page's words."""
    answer = client.post(
        f"/shoots/{row.shoot_id}/{way}/", {"setup": row.pk, **fields},
        headers={FRAGMENT_HEADER: "wide", CLIENT_HEADER: window}, follow=True,
    )  # fmt: skip
    if place := answer.headers.get("X-Fotonomy-Go"):
        answer = client.get(place, follow=True)
    assert answer.status_code == 200
    return str(answer.content.decode())


def fresh(row: Setup) -> Setup:
    return Setup.objects.get(pk=row.pk)


def test_a_step_is_its_fields_and_no_others(demo_client: Any, adze: Setup) -> None:
    edit(demo_client, adze, iris="f/5.6", freeze_px="12")
    change = history.steps(adze.shoot).last()
    assert {path: (was, now) for _, path, was, now in change.fields} == {
        "iris": (4.0, 5.6), "intent.freeze_px": (None, 12.0),
    }  # fmt: skip
    assert (change.label, change.client, change.author) == (
        "Freeze to, Iris", "one", adze.shoot.owner,
    )  # fmt: skip


def test_two_windows_take_back_each_their_own(demo_client: Any, adze: Setup) -> None:
    edit(demo_client, adze, "one", event_s="2 h")
    mine = history.steps(adze.shoot).last()
    edit(demo_client, adze, "two", temperature_c="-5")
    # The first window's button still names its own step: the other's stays.
    step(demo_client, adze, "undo", "one", step=mine.pk)
    assert (fresh(adze).run["event_s"], fresh(adze).run["temperature_c"]) == (
        adze.run.get("event_s", 3600.0), -5.0,
    )  # fmt: skip
    step(demo_client, adze, "redo", "one")
    assert (fresh(adze).run["event_s"], fresh(adze).run["temperature_c"]) == (7200.0, -5.0)


def test_what_the_other_window_changed_since_stays(demo_client: Any, adze: Setup) -> None:
    edit(demo_client, adze, "one", iris="f/5.6", iso="640")
    mine = history.steps(adze.shoot).last()
    edit(demo_client, adze, "two", iso="800")
    words = step(demo_client, adze, "undo", "one", step=mine.pk)
    assert (fresh(adze).iris, fresh(adze).iso) == (4.0, 800)
    assert "ISO: changed again since, so it stays as it is." in words
    # And done again it is the same field and no other.
    step(demo_client, adze, "redo", "one")
    assert (fresh(adze).iris, fresh(adze).iso) == (5.6, 800)


def test_a_change_elsewhere_takes_no_redo_away(demo_client: Any, adze: Setup) -> None:
    edit(demo_client, adze, "one", iris="f/5.6")
    step(demo_client, adze, "undo", "one")
    edit(demo_client, adze, "two", iso="640")
    step(demo_client, adze, "redo", "one")
    assert (fresh(adze).iris, fresh(adze).iso) == (5.6, 640)
    # Unless it is the same field: the later one stays.
    step(demo_client, adze, "undo", "one", step=history.steps(adze.shoot).get(label="Iris").pk)
    edit(demo_client, adze, "two", iris="f/8")
    assert not history.undone_steps(adze.shoot).exists()


def test_undo_and_redo_go_through_the_steps_in_order(demo_client: Any, adze: Setup) -> None:
    first = snapshot(fresh(adze))
    states = [first]
    for fields in ({"iris": "f/5.6"}, {"held_iso": "1"}, {"reading-0-stops": "+2"},
                   {"limit_nd_density": "0.3 to 1.8"}, {"weight_noise": "2"}, {"kind": "burst"},
                   {"scene": "forge"}, {"shutter": "1/500"}):  # fmt: skip
        edit(demo_client, adze, **fields)
        states.append(snapshot(fresh(adze)))
    count = history.steps(adze.shoot).count()
    assert count >= 6
    for _ in range(count):
        step(demo_client, adze, "undo")
    assert opened(snapshot(fresh(adze))) == opened(first)
    for _ in range(count):
        step(demo_client, adze, "redo")
    assert opened(snapshot(fresh(adze))) == opened(states[-1])
    assert "Nothing to redo" in step(demo_client, adze, "redo")


def test_a_reading_that_is_gone_is_left_alone(demo_client: Any, adze: Setup) -> None:
    edit(demo_client, adze, "one", **{"reading-1-stops": "+3"})
    mine = history.steps(adze.shoot).last()
    assert [path for _, path, _, _ in mine.fields] == ["readings.1.stops"]
    for _ in range(len(fresh(adze).readings) - 1):
        edit(demo_client, adze, "two", reading_drop="1")
    words = step(demo_client, adze, "undo", "one", step=mine.pk)
    assert "stays as it is" in words
    assert len(fresh(adze).readings) == 1


def test_undo_never_stores_what_the_rules_refuse(demo_client: Any, adze: Setup) -> None:
    edit(demo_client, adze, iris="f/5.6")
    change = history.steps(adze.shoot).last()
    change.fields = [[adze.pk, "iris", 1e-307, 5.6]]
    change.save()
    assert "would break a rule" in step(demo_client, adze, "undo")
    assert fresh(adze).iris == 5.6
    assert not type(change).objects.get(pk=change.pk).undone


def test_an_edit_of_a_deleted_setup_says_so(demo_client: Any, adze: Setup) -> None:
    # Deleted between the look-up and the write: the row is read again inside the transaction.
    from fotonomy.shoots.editing.apply import edit_setup

    stale = fresh(adze)
    fresh(adze).delete()
    with pytest.raises(Setup.DoesNotExist):
        edit_setup(stale, {"iris": "f/8"})  # type: ignore[arg-type]


def test_gear_and_what_hangs_on_the_camera_are_fields_too(demo_client: Any, adze: Setup) -> None:
    lens = Lens.objects.get(owner=adze.shoot.owner, name="Close-up 90")
    edit(demo_client, adze, "one", lens=lens.name)
    edit(demo_client, adze, "two", filters="Polariser")
    mine = history.steps(adze.shoot).get(client="one")
    step(demo_client, adze, "undo", "one", step=mine.pk)
    assert fresh(adze).lens_id == adze.lens_id
    assert [piece.name for piece in fresh(adze).filters.all()] == ["Polariser"]


def test_old_steps_leave_with_time_and_the_newest_stay(demo_client: Any, adze: Setup) -> None:
    values = ["f/4.5", "f/5"]
    for k in range(history.LONGEST_HISTORY + 2 * history.PRUNE_EVERY + 5):
        history.record(
            adze.shoot, "iris", {str(adze.pk): {"iris": k}}, {str(adze.pk): {"iris": k + 1}}
        )
    assert history.steps(adze.shoot).count() <= history.LONGEST_HISTORY + history.PRUNE_EVERY
    edit(demo_client, adze, iris=values[0])
    assert history.steps(adze.shoot).last().fields[0][3] == 4.5


numbers = st.one_of(st.none(), st.integers(0, 9), st.floats(0, 1))
parts = st.dictionaries(st.sampled_from("abc"), st.integers(0, 9), max_size=3)
readings = st.lists(
    st.fixed_dictionaries({"name": st.text(max_size=3), "stops": st.integers(-3, 3)}), max_size=3
)
snapshots = st.fixed_dictionaries({
    "iris": numbers, "notes": st.text(max_size=4), "run": parts,
    "intent": st.builds(lambda a, b: {**a, "emphasis": b}, parts, parts),
    "held": st.lists(st.sampled_from(["iris", "iso", "shutter"]), unique=True).map(sorted),
    "filters": st.lists(st.integers(1, 5), unique=True).map(sorted),
    "limits": st.lists(st.sampled_from(["iris", "iso"]), unique=True).map(
        lambda names: [{"setting": name, "low": 1, "high": 2} for name in names]
    ),
    "shutter_angle_deg": numbers, "shutter_time_s": numbers, "readings": readings,
})  # fmt: skip


@examples(200)
@given(snapshots, snapshots)
def test_what_moved_leads_there_and_back(before: dict[str, Any], after: dict[str, Any]) -> None:
    fields = json.loads(json.dumps(moved(before, after)))
    there = with_values(before, [(path, now) for path, _, now in fields])
    back = with_values(there, [(path, was) for path, was, _ in fields])

    def known(one: dict[str, Any]) -> dict[str, Any]:
        return {path: value for path, value in opened(one).items() if value is not None}

    assert known(there) == known(after)
    assert known(back) == known(before)
    for path, was, now in fields:
        assert value_at(before, path) == was
        assert value_at(after, path) == now
    assert moved(before, before) == []


@examples(200)
@given(snapshots, snapshots, snapshots)
def test_changes_of_different_fields_do_not_meet(
    start: dict[str, Any], one: dict[str, Any], two: dict[str, Any]
) -> None:
    """Whichever of two is taken back first, what is left is the other's alone."""
    start, one, two = ({**s, "readings": []} for s in (start, one, two))
    first, second = moved(start, one), moved(start, two)
    if {path for path, _, _ in first} & {path for path, _, _ in second}:
        return
    both = with_values(start, [(path, now) for path, _, now in (*first, *second)])
    only_second = with_values(both, [(path, was) for path, was, _ in first])
    expected = with_values(start, [(path, now) for path, _, now in second])
    assert moved(only_second, expected) == []


@pytest.mark.parametrize(
    ("path", "name"),
    [("iris", "iris"), ("run.event_s", "event_s"), ("body_id", "body"), ("held.iso", "held"),
     ("intent.emphasis.noise", "emphasis"), ("readings.2.stops", "readings")],
)  # fmt: skip
def test_paths_know_their_setting(path: str, name: str) -> None:
    assert setting_of(path) == name


def whole_form(client: Any, row: Setup) -> dict[str, list[str]]:
    """What a page without scripts sends when nothing was touched."""
    page = html.fromstring(client.get(row.get_absolute_url()).content.decode())
    data: dict[str, list[str]] = {}
    for name, value in page.xpath("//form[@id='bench']")[0].form_values():
        data.setdefault(name, []).append(value)
    return data


@pytest.mark.parametrize("code", ["4B", "1A", "5B", "6A", "2A"])
def test_a_whole_form_overwrites_nothing_it_only_shows(
    demo_client: Any, demo: Any, code: str
) -> None:
    row = demo.setups.get(code=code)
    sent = whole_form(demo_client, row)
    # Meanwhile, in another window: a scale, a hold, a limit, a weight, a wish, gear, a reading.
    for fields in ({"iris": "f/10"}, {"held_iso": "1"}, {"limit_nd_density": "0 to 1.2"},
                   {"weight_noise": "3"}, {"depth_m": "2 m"}, {"filters": "Polariser"},
                   {"reading-0-stops": "+0.5"}, {"notes": "Bring the hood."}):  # fmt: skip
        edit(demo_client, row, "two", **fields)
    theirs = snapshot(fresh(row))
    sent["subject_distance_m"] = ["7 m"]
    sent["reading-0-name"] = ["planks"]
    assert demo_client.post(row.get_absolute_url(), sent).status_code == 302
    assert {(path, now) for path, _, now in moved(theirs, snapshot(fresh(row)))} == {
        ("subject_distance_m", 7.0), ("readings.0.name", "planks"),
    }  # fmt: skip
    # And the step is these two and no others.
    assert {path for _, path, _, _ in history.steps(demo).last().fields} == {
        "subject_distance_m", "readings.0.name",
    }  # fmt: skip


def test_a_whole_form_that_no_longer_fits_changes_nothing(demo_client: Any, adze: Setup) -> None:
    sent = whole_form(demo_client, adze)
    for _ in range(2):
        edit(demo_client, adze, "two", reading_drop="3")
    sent["reading-3-name"] = ["loft window"]
    sent["title"] = ["Chips"]
    before = snapshot(fresh(adze))
    answer = demo_client.post(adze.get_absolute_url(), sent)
    assert answer.status_code == 422
    assert snapshot(fresh(adze)) == before
    page = html.fromstring(answer.content.decode())
    assert page.xpath("//input[@name='title']/@value") == ["Chips"], "what was typed still stands"
    assert "Another window changed what this depends on" in page.text_content()


def test_a_page_says_what_another_window_did(demo_client: Any, adze: Setup) -> None:
    def news(window: str, seen: int) -> Any:
        return demo_client.get(
            f"{adze.get_absolute_url()}news/", {"seen": seen},
            headers={CLIENT_HEADER: window, SEEN_HEADER: str(seen)},
        )  # fmt: skip

    edit(demo_client, adze, "one", iris="f/5.6")
    seen = history.latest(adze.shoot)
    assert news("two", seen).status_code == 204
    edit(demo_client, adze, "two", iris="f/8")
    # The window that did it is told nothing, the other one who changed what, and can take it back.
    assert news("two", seen).status_code == 204
    answer = news("one", seen)
    page = html.fromstring(answer.content.decode())
    words = " ".join(page.xpath("//*[@id='news']")[0].text_content().split())
    assert words.startswith("Iris: f/5.6 to f/8, changed in another window at ")
    assert words.endswith("Undo it Close")
    assert page.xpath("//input[@name='iris']/@value") == ["f/8"]
    back = page.xpath("//*[@id='news']//input[@name='step']/@value")
    step(demo_client, adze, "undo", "one", step=back[0])
    assert fresh(adze).iris == 5.6
    # Which is news for the other window.
    later = news("two", history.latest(adze.shoot) - 1)
    assert "Iris: f/8 to f/5.6, undone in another window" in " ".join(
        html.fromstring(later.content.decode()).xpath("//*[@id='news']")[0].text_content().split()
    )
    # A change of the first window's own tells it too, until the news is read.
    edit(demo_client, adze, "two", iso="640")
    answer = demo_client.post(
        adze.get_absolute_url(), {"white_k": "5000"},
        headers={FRAGMENT_HEADER: "wide", CLIENT_HEADER: "one", SEEN_HEADER: str(seen)},
    )  # fmt: skip
    assert "ISO: 500 to 640, changed in another window" in answer.content.decode()


def test_a_change_sent_again_is_made_once(demo_client: Any, adze: Setup) -> None:
    before = fresh(adze).readings[0]["stops"]
    headers = {FRAGMENT_HEADER: "wide", CLIENT_HEADER: "one", ACTION_HEADER: "a-1"}
    for more in ({}, {AGAIN_HEADER: "1"}, {AGAIN_HEADER: "1"}):
        answer = demo_client.post(
            adze.get_absolute_url(), {"reading_nudge": "0:3"}, headers={**headers, **more}
        )
        assert answer.status_code == 200
    assert fresh(adze).readings[0]["stops"] == pytest.approx(before + 0.3)
    # The same name in another window is another change.
    demo_client.post(
        adze.get_absolute_url(), {"reading_nudge": "0:3"},
        headers={**headers, CLIENT_HEADER: "two", AGAIN_HEADER: "1"},
    )  # fmt: skip
    assert fresh(adze).readings[0]["stops"] == pytest.approx(before + 0.6)


def test_news_stay_until_they_are_read_and_go_when_taken_back(
    demo_client: Any, adze: Setup
) -> None:
    edit(demo_client, adze, "one", iris="f/5.6")
    read = history.latest(adze.shoot)
    edit(demo_client, adze, "two", iris="f/8")
    edit(demo_client, adze, "two", iso="640")

    def news() -> list[str]:
        answer = demo_client.post(
            adze.get_absolute_url(), {}, headers={
                FRAGMENT_HEADER: "wide", CLIENT_HEADER: "one", SEEN_HEADER: str(read),
            },
        )  # fmt: skip
        page = html.fromstring(answer.content.decode())
        return [
            one.text_content().split(":")[0].strip() for one in page.xpath("//*[@id='news']/form")
        ]

    assert news() == ["Iris", "ISO"]
    edit(demo_client, adze, "one", white_k="5000")
    assert news() == ["Iris", "ISO"]
    mine = next(s for s in history.steps(adze.shoot) if s.label == "Iris" and s.client == "two")
    step(demo_client, adze, "undo", "one", step=mine.pk)
    assert news() == ["ISO"]


def test_a_script_is_told_where_to_go_and_the_words_wait_there(
    demo_client: Any, adze: Setup
) -> None:
    bench, pk = adze.get_absolute_url(), adze.pk
    demo_client.post(f"{bench}delete/")
    headers = {FRAGMENT_HEADER: "wide"}
    answer = demo_client.post(bench, {"iris": "f/8"}, headers=headers)
    assert (answer.status_code, answer["X-Fotonomy-Go"]) == (204, f"/shoots/{adze.shoot_id}/")
    page = demo_client.get(answer["X-Fotonomy-Go"], follow=True).content.decode()
    assert "This setup was deleted in another window" in page
    # A setup that cannot be planned any more sends to its own page, which says why.
    demo_client.post(f"/shoots/{adze.shoot_id}/undo/")
    Setup.objects.filter(pk=pk).update(iris=1e-9)
    answer = demo_client.post(bench, {"iso": "640"}, headers=headers)
    assert (answer.status_code, answer["X-Fotonomy-Go"]) == (204, bench)


@pytest.mark.parametrize(
    ("name", "text", "words"),
    [
        ("shutter", "90°", "Shutter: 180° to 90°, changed"),
        ("temperature_c", "−5 °C", "As cold as: 15 °C to −5 °C, changed"),
        ("reading-0-stops", "+1.2", "Readings: changed"),
        ("notes", "Mind the tide", "Notes: changed"),
    ],
)
def test_the_news_name_the_values_where_they_can_be_written(
    demo_client: Any, adze: Setup, name: str, text: str, words: str
) -> None:
    from fotonomy.shoots.presenters.news import news_of

    seen = history.latest(adze.shoot)
    edit(demo_client, adze, "two", **{name: text})
    row = fresh(adze)
    row.shoot.actor = Actor(row.shoot.owner, "one")
    (said,) = news_of(row, history.since(row.shoot, seen))
    assert said.words.startswith(words)


def test_the_ends_of_the_log_in_one_query(demo_client: Any, demo: Shoot) -> None:
    """The steps that undo and redo take, after each of a row of changes and steps back."""
    row = demo.setups.get(code="4B")

    def iris(text: str) -> None:
        demo_client.post(row.get_absolute_url(), {"iris": text})

    for act in (
        lambda: None, lambda: iris("f/5.6"), lambda: iris("f/8"), lambda: history.undo(demo),
        lambda: history.undo(demo), lambda: history.redo(demo), lambda: iris("f/11"),
        lambda: history.undo(demo), lambda: history.redo(demo),
    ):  # fmt: skip
        act()
        last, following = history.ends(demo)
        assert last == history.steps(demo).last()
        assert following == history.undone_steps(demo).last()


def test_what_was_undone_is_forgotten_where_it_was_the_only_step(
    demo_client: Any, demo: Shoot
) -> None:
    demo.changes.all().delete()
    row = demo.setups.get(code="4B")
    demo_client.post(row.get_absolute_url(), {"iris": "f/5.6"})
    assert history.undo(demo)
    demo_client.post(row.get_absolute_url(), {"iris": "f/8"})
    assert history.redo(demo) is None


def test_a_step_taken_back_between_two_takes_is_forgotten_too(demo: Shoot) -> None:
    """The row of the shoot that both use must not remember what was so before."""
    demo.changes.all().delete()
    setup = demo.setups.get(code="4B")
    first, _ = (
        log_take(demo, setup.pk, "4B", TakeEntry(uid=uid, verdict="good", at=timezone.now()))
        for uid in ("one", "two")
    )
    assert history.undo(demo)
    first.shoot = demo
    change_take(first, {"note": "wind"})
    assert history.redo(demo) is None


@pytest.mark.parametrize("page", ["field-day", "field-card", "day", "bench", "field-take"])
def test_what_is_changed_while_a_page_is_read_is_not_taken_for_seen(
    demo_client: Any, demo: Shoot, page: str, monkeypatch: Any
) -> None:
    """The page shows the shoot as it was: it has to ask for what was changed meanwhile."""
    row = demo.setups.get(code="4B")
    at = row.day_id if "day" in page else row.pk
    real = history.ends if page in ("day", "bench") else history.seen

    def meanwhile(shoot: Shoot) -> Any:
        record_by_others(demo)
        return real(shoot)

    before = history.latest(demo)
    monkeypatch.setattr(history, real.__name__, meanwhile)
    answer = demo_client.get(reverse(page, args=[demo.pk, at]))
    assert history.latest(demo) > before
    assert f'data-seen="{before}"' in answer.content.decode()


def record_by_others(shoot: Shoot) -> None:
    other = Shoot.objects.get(pk=shoot.pk)
    data = history.packing(other)
    history.record(
        other, "packed", {"0": data}, {"0": {**data, "packs_all": not data["packs_all"]}}
    )

"""Undo and redo field by field: two windows on one shoot, and nothing lost between them."""

import json
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fotonomy.kit.models import Lens
from fotonomy.shoots import history
from fotonomy.shoots.field_paths import moved, opened, setting_of, value_at, with_values
from fotonomy.shoots.mapping import snapshot
from fotonomy.shoots.models import Setup
from fotonomy.shoots.views.lookup import CLIENT_HEADER, FRAGMENT_HEADER


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


@settings(max_examples=200)
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


@settings(max_examples=200)
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

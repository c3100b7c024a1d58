"""The arranger against brute force, against a plain greedy order, and against its own rules."""

from itertools import combinations, permutations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.day.arrange import Progress, arrange
from fotonomy.core.day.tasks import Task, fits, gap_min, greedy
from tests.properties import examples


def way(start: int, end: int) -> float:
    """Places on a line, ten minutes apart."""
    return 10.0 * abs(start - end)


def task(key: int, low: int, high: int, **changes: object) -> Task:
    given: dict[str, object] = {
        "name": f"{key}A", "place": 0, "body": "A", "lens": "35", "prepare_min": 5, "shoot_min": 20,
        "stays_min": 20, "allowed": ((low, high),) if high >= low else (),
    }  # fmt: skip
    return Task(key=key, **{**given, **changes})  # type: ignore[arg-type]


def best_by_hand(tasks: list[Task], spare: int) -> int:
    """The greatest weight of any order of any of them, each as early as it can: every order tried."""
    for count in range(len(tasks), 0, -1):
        weights = [
            sum(t.weight for t in chosen)
            for chosen in combinations(tasks, count) if orderly(chosen, spare)
        ]  # fmt: skip
        rest = [
            sum(t.weight for t in chosen)
            for fewer in range(count - 1, 0, -1) for chosen in combinations(tasks, fewer)
            if orderly(chosen, spare)
        ]  # fmt: skip
        if weights:
            return max([*weights, *rest])
    return 0


def orderly(chosen: tuple[Task, ...], spare: int) -> bool:
    return any(_in_order(order, spare) for order in permutations(chosen))


def _in_order(order: tuple[Task, ...], spare: int) -> bool:
    last: Task | None = None
    free = -(10**6)
    for one in order:
        begins = free + (gap_min(last, one, way, spare) if last else 0)
        at = begins + one.prepare_min
        slot = next((max(low, at) for low, high in one.allowed if max(low, at) <= high), None)
        if slot is None:
            return False
        free, last = slot + one.shoot_min, one
    return True


def some_tasks(most: int) -> st.SearchStrategy[list[Task]]:
    one = st.tuples(
        st.integers(0, 300), st.integers(0, 120), st.sampled_from((10, 20, 45)), st.integers(0, 2),
        st.sampled_from((1, 2, 2, 3)), st.sampled_from(("35", "50")),
    )  # fmt: skip
    return st.lists(one, min_size=1, max_size=most).map(
        lambda found: [
            task(k, low, low + wide, shoot_min=long, stays_min=long, place=place, priority=priority,
                 lens=lens)
            for k, (low, wide, long, place, priority, lens) in enumerate(found)
        ]
    )  # fmt: skip


@examples(40)
@given(some_tasks(6), st.sampled_from((0, 5)))
def test_as_good_as_every_order_tried(tasks: list[Task], spare: int) -> None:
    found = arrange(tasks, way, spare_min=spare)
    assert fits(tasks, found.starts, way, spare)
    assert found.best
    assert found.weight == found.most == best_by_hand(tasks, spare)
    assert {one.key for one in found.left_out} | found.starts.keys() == {t.key for t in tasks}


def test_seven_that_only_one_order_fits() -> None:
    # Each has to begin just where the one before ends: 25 minutes each, in the order of the keys.
    tasks = [task(k, 25 * k + 5, 25 * k + 5 + 3 * (6 - k)) for k in (4, 2, 6, 0, 5, 3, 1)]
    found = arrange(tasks, way)
    assert found.best
    assert sorted(found.starts, key=lambda key: found.starts[key]) == list(range(7))
    assert best_by_hand(tasks, 0) == found.weight


@examples(25)
@given(some_tasks(14), st.data())
def test_whatever_it_gives_keeps_every_rule(tasks: list[Task], data: st.DataObject) -> None:
    changed = []
    for one in tasks:
        more: dict[str, object] = {"body": data.draw(st.sampled_from("AB"))}
        if data.draw(st.integers(0, 5)) == 0:
            more["alongside"] = True
        if data.draw(st.integers(0, 5)) == 0:
            more |= {"shoot_min": 120, "stays_min": 5}
        if data.draw(st.integers(0, 7)) == 0:
            more["fixed"] = data.draw(st.integers(0, 300))
        base = {name: getattr(one, name) for name in Task.__slots__}
        changed.append(Task(**{**base, **more}))
    found = arrange(changed, way, spare_min=5, seconds=1.0)
    assert fits(changed, found.starts, way, 5)
    plain = greedy(changed, way, 5)
    assert fits(changed, plain, way, 5)
    assert found.weight >= sum(one.weight for one in changed if one.key in plain)


def test_it_fits_more_than_the_plain_order() -> None:
    # The long one closes first, so that the plain order begins with it and loses two.
    tasks = [task(1, 5, 8, shoot_min=100, stays_min=100), task(2, 10, 30), task(3, 40, 60)]
    assert len(greedy(tasks, way)) == 1
    found = arrange(tasks, way)
    assert found.starts.keys() == {2, 3}
    (left,) = found.left_out
    assert left.key == 1
    assert set(left.instead_of) == {2, 3}
    assert "matters as much" in left.why


def test_priority_goes_first() -> None:
    first, second = task(1, 10, 12, priority=1), task(2, 10, 12, priority=2)
    assert arrange([first, second], way).starts.keys() == {1}
    # One of the first outweighs two of the second, and five of the third do not come up to two.
    three = [
        task(1, 30, 32, priority=1, shoot_min=60, stays_min=60),
        task(2, 10, 40),
        task(3, 60, 90),
    ]
    assert 1 in arrange(three, way).starts


def test_fewest_ways_and_lens_changes() -> None:
    tasks = [
        task(1, 0, 400, place=0, lens="35"), task(2, 0, 400, place=3, lens="50"),
        task(3, 0, 400, place=0, lens="50"), task(4, 0, 400, place=3, lens="35"),
    ]  # fmt: skip
    found = arrange(tasks, way)
    # One way of 30 minutes; 35, 50 there, then 50, 35: two changes of three minutes.
    assert found.ways_min == 36
    assert found.ways_least == 36
    assert found.words == "No other order fits more, or saves a move or a lens change"


def test_two_cameras_and_a_run_alone() -> None:
    both = [task(1, 10, 10), task(2, 10, 10, body="B")]
    assert len(arrange(both, way).starts) == 1
    assert len(arrange([both[0], task(2, 10, 10, body="B", alongside=True)], way).starts) == 2
    assert len(arrange([both[0], task(2, 10, 10, alongside=True)], way).starts) == 1
    assert (
        len(arrange([both[0], task(2, 10, 10, body="B", alongside=True, place=1)], way).starts) == 1
    )
    alone = task(1, 10, 10, shoot_min=240, stays_min=5)
    assert len(arrange([alone, task(2, 20, 40, body="B")], way).starts) == 2
    assert len(arrange([alone, task(2, 20, 40)], way).starts) == 1


def test_what_is_pinned_stays_even_where_it_collides() -> None:
    pinned = [task(1, 0, 5, fixed=100), task(2, 0, 5, fixed=105)]
    found = arrange([*pinned, task(3, 95, 120)], way)
    assert found.starts == {1: 100, 2: 105}
    (left,) = found.left_out
    assert "pinned" in left.why


def test_what_has_no_light_says_why() -> None:
    found = arrange([task(1, 5, 4, no_room="there is no dusk"), task(2, 0, 50)], way)
    assert found.best
    assert found.left_out[0].why == "there is no dusk"
    assert arrange([], way).words == "No other order fits more, or saves a move or a lens change"


def test_it_tells_of_progress_and_stops_when_told() -> None:
    tasks = [task(k, 5 * k, 5 * k + 60, place=k % 3, lens=str(k % 2)) for k in range(9)]
    seen: list[Progress] = []

    def stop(so_far: Progress) -> bool:
        seen.append(so_far)
        return False

    found = arrange(tasks, way, better=stop)
    assert len(seen) == 1
    assert fits(tasks, found.starts, way)
    assert seen[0].placed == len(seen[0].starts)
    seen.clear()
    arrange(tasks, way, better=lambda so_far: seen.append(so_far) or True)
    assert len(seen) >= 2
    assert all(fits(tasks, one.starts, way) for one in seen)


@pytest.mark.parametrize(("spare", "count"), [(0, 2), (10, 2), (11, 1)])
def test_spare_minutes_are_kept(spare: int, count: int) -> None:
    # Shot from 10 to 30; the other sets up from 40 at the latest.
    assert len(arrange([task(1, 10, 10), task(2, 45, 45)], way, spare_min=spare).starts) == count

"""What takes teach: counts by group, and limits that move on ten takes or more, never on nine.

Wilson's interval is held against scipy in test_pictures: 9 of 10 give 0.60 to 0.98 at 95 %, and 1 of
10 gives 0.02 to 0.40 (Wilson 1927).
"""

from dataclasses import replace
from typing import Any

import pytest

from fotonomy.core.spec.intent import Handheld
from fotonomy.core.takes.kit_suggestions import (
    Shot,
    by_hand,
    by_interval,
    by_iso,
    by_method,
    by_rate,
    ceiling_offer,
    method_offer,
    offsets,
    stops_over,
)

SHOT = Shot(
    body="A", profile="Log", iso=800, lens="50", support="hand", by_hand=True, time_s=1 / 50,
    equivalent_mm=50, stabiliser_stops=0, subject="boat", every_s=None, rate_fps=25, good=True,
    noisy=False, shaken=False,
)  # fmt: skip


def shots(count: int, bad: int = 0, **more: Any) -> list[Shot]:
    """So many takes, the first ``bad`` of them noisy, shaken and no good."""
    made = [replace(SHOT, **more) for _ in range(count)]
    return [
        replace(one, good=False, noisy=True, shaken=True) if k < bad else one
        for k, one in enumerate(made)
    ]


def test_takes_are_counted_by_what_was_tried() -> None:
    counts = by_iso([*shots(3, 1), *shots(2, iso=3200), *shots(1, profile="Video")])
    assert [(one.key, one.kept.good, one.kept.count) for one in counts] == [
        (("A", "Log", 800), 2, 3), (("A", "Log", 3200), 2, 2), (("A", "Video", 800), 1, 1),
    ]  # fmt: skip
    every = by_interval([*shots(2, 1, every_s=6.0), *shots(1, every_s=20.0), *shots(4)])
    assert [one.key for one in every] == [("boat", 6.0), ("boat", 20.0)]
    assert by_rate(shots(4))[0].key == ("boat", 25)
    assert by_rate(shots(2, every_s=6.0)) == ()


@pytest.mark.parametrize(
    ("time_s", "stops"),
    [(1 / 50, 0), (1 / 65, 0), (1 / 40, 0), (1 / 25, 1), (1 / 200, -2), (1.0, 4), (1 / 5000, -4)],
)
def test_hand_held_times_are_counted_in_stops_over_the_limit(time_s: float, stops: int) -> None:
    # One over 50 mm is 1/50 s.
    (one,) = by_hand(shots(1, time_s=time_s), Handheld.FOCAL)
    assert one.key == ("50", "hand", stops)
    assert by_hand(shots(1, by_hand=False), Handheld.FOCAL) == ()


def test_a_stabiliser_and_a_stricter_method_move_the_limit() -> None:
    assert stops_over(SHOT, Handheld.TWICE_FOCAL) == pytest.approx(1)
    assert stops_over(replace(SHOT, stabiliser_stops=3), Handheld.FOCAL) == pytest.approx(-3)
    assert stops_over(SHOT, Handheld.FLAT) == pytest.approx(2)


@pytest.mark.parametrize(
    ("count", "bad", "offered"), [(9, 0, None), (10, 0, 3200), (10, 1, 3200), (10, 2, None)]
)
def test_a_ceiling_is_raised_on_ten_that_were_kept(
    count: int, bad: int, offered: int | None
) -> None:
    offer = ceiling_offer([*shots(20), *shots(count, bad, iso=3200)], "A", 1600)
    assert (offer.offered if offer else None) == offered
    assert ceiling_offer([*shots(20), *shots(count, bad, iso=3200)], "B", 1600) is None


def test_what_lies_higher_counts_for_what_lies_lower() -> None:
    """Six at 3200 and four at 6400: ten at and over 3200, four at 6400."""
    offer = ceiling_offer([*shots(6, iso=3200), *shots(4, iso=6400)], "A", 1600)
    assert offer is not None
    assert (offer.offered, offer.kept.count) == (3200, 10)
    higher = ceiling_offer([*shots(6, iso=3200), *shots(10, iso=6400)], "A", 1600)
    assert higher is not None
    assert (higher.offered, higher.kept.count) == (6400, 10)


@pytest.mark.parametrize(
    ("count", "bad", "offered"), [(9, 9, None), (10, 10, 800), (10, 9, 800), (10, 8, None)]
)
def test_a_ceiling_is_lowered_on_ten_that_were_lost(
    count: int, bad: int, offered: int | None
) -> None:
    offer = ceiling_offer([*shots(20), *shots(count, bad, iso=3200)], "A", 6400)
    assert (offer.offered if offer else None) == offered


def test_under_the_lowest_that_was_tried_nothing_is_known() -> None:
    assert ceiling_offer(shots(30, 30, iso=3200), "A", 6400) is None
    # What was lost over the ceiling is no news.
    assert ceiling_offer([*shots(20), *shots(12, 12, iso=3200)], "A", 1600) is None


def test_the_method_that_holds_and_lets_most_in_is_offered() -> None:
    # Ten at 1/50 s with 50 mm lie within one over focal alone, ten at 1/200 s within all.
    mixed = [*shots(10), *shots(10, time_s=1 / 200)]
    counts = {one.method: one for one in by_method(mixed)}
    assert counts[Handheld.FOCAL].kept.count == 20
    assert counts[Handheld.TWICE_FOCAL].kept.count == 10
    offer = method_offer(tuple(counts.values()), Handheld.FLAT)
    assert offer is not None
    assert offer.method is Handheld.FOCAL
    assert method_offer(tuple(counts.values()), Handheld.FOCAL) is None


def test_a_method_that_does_not_hold_gives_way_to_a_stricter_one() -> None:
    mixed = [*shots(10, 9), *shots(12, time_s=1 / 200)]
    offer = method_offer(by_method(mixed), Handheld.FOCAL)
    assert offer is not None
    assert offer.method in (Handheld.TWICE_FOCAL, Handheld.FLAT)
    assert method_offer(by_method(shots(9)), Handheld.FOCAL) is None


def test_light_is_told_by_its_mean_and_spread() -> None:
    # 1, 2 and 3: the mean is 2, the standard deviation of the sample 1.
    (one, other) = offsets([("day", 1.0), ("day", 2.0), ("dusk", -0.5), ("day", 3.0)])
    assert (one.key, one.count, one.mean_stops, one.spread_stops) == ("day", 3, 2.0, 1.0)
    assert (other.mean_stops, other.spread_stops, other.enough) == (-0.5, 0.0, False)

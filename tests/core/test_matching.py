"""Pictures matched to takes: offsets that were put in are found again, by hand and at random."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.takes.matching import (
    AFTER_S,
    BEFORE_S,
    FEWEST,
    MOST_OFF_S,
    Taken,
    clock_offset,
    match,
)
from tests.properties import examples

# A day of eight takes at uneven distances, as days are.
TAKES = [
    Taken(f"t{k}", start, length)
    for k, (start, length) in enumerate(
        [
            (0, 40),
            (700, 12),
            (1900, 30),
            (5400, 600),
            (9100, 20),
            (9400, 25),
            (14_000, 9),
            (21_000, 60),
        ]
    )
]


def pictures_of(takes: list[Taken], off_s: float) -> list[float]:
    """One in the middle of each take, by a clock that is ahead."""
    return [take.starts_s + take.length_s / 2 + off_s for take in takes]


@pytest.mark.parametrize("off", [0.0, 37.0, -3600.0, 36_000.0 + 121, -7.5 * 3600])
def test_an_offset_is_found_within_seconds(off: float) -> None:
    """An hour of summer time, ten hours of a zone, drift."""
    found = clock_offset(pictures_of(TAKES, off), TAKES)
    assert found is not None
    assert found.seconds == pytest.approx(off, abs=45)
    assert (found.agree, found.of) == (8, 8)
    for take, picture in zip(TAKES, pictures_of(TAKES, off), strict=True):
        assert match(picture - found.seconds, TAKES).uid == take.uid


@examples(60)
@given(off=st.integers(-86_400, 86_400), seed=st.integers(0, 10_000))
def test_with_a_third_of_the_pictures_of_nothing(off: int, seed: int) -> None:
    """Twelve right ones and six at random over two days."""
    chance = np.random.default_rng(seed)
    takes = [
        Taken(f"t{k}", float(s), 15.0)
        for k, s in enumerate(np.cumsum(chance.uniform(200, 4000, 12)))
    ]
    right = [take.starts_s + chance.uniform(0, 15) + off for take in takes]
    wrong = list(chance.uniform(-90_000, 90_000, 6))
    found = clock_offset([*right, *wrong], takes)
    assert found is not None
    assert found.seconds == pytest.approx(off, abs=60)
    hits = sum(
        match(t - found.seconds, takes).uid == take.uid
        for t, take in zip(right, takes, strict=True)
    )
    assert hits == 12


def test_nothing_to_go_by() -> None:
    assert clock_offset([], TAKES) is None
    assert clock_offset([0.0], []) is None
    # Days away from every take.
    assert clock_offset([MOST_OFF_S + 30_000], TAKES) is None
    # One picture alone agrees with itself.
    alone = clock_offset([3600.0], TAKES[:1])
    assert alone is not None
    assert FEWEST == 2


def test_a_picture_at_the_edge_of_a_take() -> None:
    take = Taken("a", 1000, 20)
    assert match(1000 - BEFORE_S, [take]).uid == "a"
    assert match(1000 - BEFORE_S - 1, [take]).uid == ""
    assert match(1020 + AFTER_S, [take]).uid == "a"
    assert match(1020 + AFTER_S + 1, [take]).uid == ""
    assert match(1010, []).uid == ""


def test_between_two_takes_the_nearer_one_has_it_and_both_are_offered() -> None:
    takes = [Taken("a", 0, 10), Taken("b", 100, 10), Taken("c", 5000), Taken("d", 9000)]
    found = match(70, takes)
    assert (found.uid, found.nearest) == ("b", ("b", "a", "c"))
    # Inside of a long run a short take begins: it is the one that was just begun.
    within = match(50, [Taken("run", 0, 3000), Taken("short", 45, 10)])
    assert within.uid == "short"
    assert match(4000, takes).nearest[0] == "c"
    assert match(4000, takes).uid == ""


def test_a_burst_does_not_outvote_a_day() -> None:
    """Forty frames in two seconds that belong to nothing, and one picture at each of five takes."""
    takes = [Taken(f"t{k}", start, 10.0) for k, start in enumerate((0, 900, 2100, 4000, 7300))]
    pictures = [take.starts_s + 600 + 5 for take in takes]
    burst = [5000 + k / 20 for k in range(40)]
    found = clock_offset([*pictures, *burst], takes)
    assert found is not None
    assert found.seconds == pytest.approx(600, abs=60)
    assert (found.agree, found.of) == (5, 45)

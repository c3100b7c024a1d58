"""An outline read as people write it, and the coverage of a scene. Common practice, no source."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.day.outline import (
    coverage,
    hour_in,
    kind_in,
    read_outline,
    shot_of,
    size_in,
    told_schedule,
)
from fotonomy.core.errors import RuleError
from fotonomy.core.parsing.schedule import fixed_words, format_within, parse_within
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.schedule import Schedule, ShotSize, Wanted

OUTLINE = """
Scene 4: A plank is shaped — Hands, tools and chips
    4A Oak plank, wide
    4B Adze chips, close, slow motion
  - Caulking iron, macro detail

5 The launch
\tLaunch from the drone, establishing
\t* Gulls off the mast, cutaway
The end
"""


def test_scenes_with_shots_under_them() -> None:
    plank, launch, end = read_outline(OUTLINE)
    assert (plank.code, plank.title, plank.story) == (
        "4",
        "A plank is shaped",
        "Hands, tools and chips",
    )
    assert [(s.code, s.title, s.size, s.kind) for s in plank.shots] == [
        ("4A", "Oak plank", ShotSize.WIDE, Kind.REAL_TIME),
        ("4B", "Adze chips, slow motion", ShotSize.CLOSE, Kind.SLOW_MOTION),
        ("", "Caulking iron, macro detail", ShotSize.DETAIL, Kind.MACRO),
    ]
    assert [(s.title, s.size, s.kind) for s in launch.shots] == [
        ("Launch from the drone", ShotSize.WIDE, Kind.AERIAL),
        ("Gulls off the mast", ShotSize.CUTAWAY, Kind.BURST),
    ]
    assert (end.code, end.title, end.shots) == ("", "The end", ())


def test_shots_without_a_scene() -> None:
    (only,) = read_outline("- Stars over the sea\n- Walk home at night")
    assert (only.code, only.title) == ("", "")
    assert [s.kind for s in only.shots] == [Kind.INTERVAL, Kind.NIGHT]


@pytest.mark.parametrize("separator", [",", ";", "\t"])
def test_a_table(separator: str) -> None:
    rows = [
        ("scene", "code", "title", "size", "kind", "remark"),
        ("4 A plank", "4A", "Oak plank", "wide", "real time", "x"),
        ("4", "4B", "Adze chips", "close-up", "slow motion", ""),
        ("", "", "", "", "", ""), ("5", "", "Timelapse of the tide", "", "", ""),
    ]  # fmt: skip
    scenes = read_outline("\n".join(separator.join(row) for row in rows))
    assert [(s.code, len(s.shots)) for s in scenes] == [("4", 2), ("5", 1)]
    assert scenes[0].title == "A plank"
    assert [(s.code, s.size, s.kind) for s in scenes[0].shots] == [
        ("4A", ShotSize.WIDE, Kind.REAL_TIME), ("4B", ShotSize.CLOSE, Kind.SLOW_MOTION),
    ]  # fmt: skip
    assert scenes[1].shots[0].kind is Kind.INTERVAL


def test_words_that_tell_a_size_and_a_kind() -> None:
    sizes = {"extreme close-up of the eye": ShotSize.DETAIL, "a close friend": ShotSize.CLOSE,
             "worldwide": ShotSize.NONE, "mid shot": ShotSize.MEDIUM}  # fmt: skip
    assert {text: size_in(text) for text in sizes} == sizes
    kinds = {"dusk for night, street": Kind.DUSK_FOR_NIGHT, "light trails on the bridge": Kind.LONG_EXPOSURE,
             "120 fps splash": Kind.SLOW_MOTION, "from the car": Kind.ROLLING, "knight": Kind.REAL_TIME,
             "time lapse of clouds": Kind.INTERVAL}  # fmt: skip
    assert {text: kind_in(text) for text in kinds} == kinds


@pytest.mark.parametrize("text", ["", "  \n ", "x" * 20_001, "\n".join(["  - shot"] * 201)])
def test_what_makes_nothing_or_too_much_is_refused(text: str) -> None:
    with pytest.raises(RuleError):
        read_outline(text)


@given(st.text(max_size=300))
def test_any_text_is_read_or_refused(text: str) -> None:
    try:
        scenes = read_outline(text)
    except RuleError:
        return
    assert all(len(s.title) <= 80 and len(s.code) <= 8 for scene in scenes for s in scene.shots)


def test_coverage() -> None:
    both = coverage([ShotSize.WIDE, ShotSize.CLOSE, ShotSize.CLOSE, ShotSize.NONE])
    assert dict(both.counts)[ShotSize.CLOSE] == 2
    assert (both.unsaid, both.misses) == (1, "")
    assert coverage([]).misses == "no setup yet"
    assert coverage([ShotSize.CLOSE, ShotSize.MEDIUM]).misses.startswith("no wide")
    assert coverage([ShotSize.WIDE, ShotSize.MEDIUM]).misses == "nothing close"
    assert coverage([ShotSize.WIDE]).misses == ""


@pytest.mark.parametrize(("words", "at_min", "within"), [
    ("interview at 9:30", 570, 15), ("interview 09:30 sharp", 570, 2), ("at 17h05 ±20 min", 1025, 20),
    ("23:59 +/- 5", 1439, 5), ("gate opens 0:00 give or take 45 minutes", 0, 45),
    ("9:30 ±999", 570, 360), ("no hour", None, 2), ("24:10", None, 2), ("9:75", None, 2),
    ("timecode 10:00:00:00", None, 2), ("ratio 16:9", None, 2), ("at 9", None, 2),
])  # fmt: skip
def test_an_hour_in_a_line_is_a_wish_with_its_own_tolerance(
    words: str, at_min: float | None, within: float
) -> None:
    assert hour_in(words) == (at_min, within)
    shot = shot_of(words)
    told = told_schedule(shot, Schedule())
    assert (told.wants_at_min, told.wants_within_min) == (at_min, within)
    assert shot.wants is (None if at_min is None else Wanted.FIXED)


def test_an_hour_goes_before_light_and_gives_way_to_what_is_chosen() -> None:
    shot = shot_of("4A Backlit boat at 7:10")
    assert (shot.wants, shot.at_min) == (Wanted.FIXED, 430)
    chosen = replace(shot, wants=Wanted.SUN_BEHIND)
    assert told_schedule(chosen, Schedule()) == Schedule()


def test_how_far_off_an_hour_may_be_is_typed_and_written_alike() -> None:
    for text, minutes in (
        ("sharp", 2.0),
        ("15", 15.0),
        ("±20 min", 20.0),
        ("1 h", 60.0),
        ("0", 0.0),
    ):
        assert parse_within(text) == minutes
        assert parse_within(format_within(minutes)) in (minutes, 2.0)
    assert fixed_words(570, 2.0) == "09:30 sharp"
    assert fixed_words(570, 15.0) == "09:30 ±15 min"
    for text in ("", "soon", "-5", "2 days"):
        with pytest.raises(RuleError):
            parse_within(text)

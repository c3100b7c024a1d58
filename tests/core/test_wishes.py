"""What is wanted and what moves, as people type it: read, refused, and written back."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.constants import DISTANCE_RANGE_M
from fotonomy.core.errors import RuleError
from fotonomy.core.notation.writing import format_length
from fotonomy.core.parsing import intent as wishes
from fotonomy.core.parsing.limits import format_limit, is_span, parse_limit
from fotonomy.core.spec.setup import Limit
from tests.core.examples import setup


@pytest.mark.parametrize(
    ("parse", "text", "value"),
    [
        (wishes.parse_heading, "across", 90), (wishes.parse_heading, "Towards", 0),
        (wishes.parse_heading, "away", 180), (wishes.parse_heading, "30°", 30),
        (wishes.parse_heading, "62,5", 62.5),
        (wishes.parse_pan, "10", 10), (wishes.parse_pan, "10 °/s", 10),
        (wishes.parse_pan, "90° in 6 s", 15), (wishes.parse_pan, "45 in 0.5", 90),
        # A kilometre an hour is 1000 m in 3600 s, a mile an hour 0.44704 m/s, both exact.
        (wishes.parse_travel, "36 km/h", 10), (wishes.parse_travel, "10 mph", 4.4704),
        (wishes.parse_size, "4 cm", 0.04), (wishes.parse_size, "3 ft", 0.9144),
        (wishes.parse_subject_depth, "12mm", 0.012),
        (wishes.parse_depth, "none", None), (wishes.parse_depth, "", None),
        (wishes.parse_depth, "30 cm", 0.3), (wishes.parse_background, "1 km", 1000),
        (wishes.parse_lamp, "250", 250), (wishes.parse_lamp, "1.2 kHz", 1200),
        (wishes.parse_lamp, "off", None), (wishes.parse_light_change, "1,5 stops", 1.5),
        (wishes.parse_freeze, "2 px", 2), (wishes.parse_freeze, "no", None),
        (wishes.parse_smear, "1.5 %", 1.5), (wishes.parse_slow_factor, "4×", 4),
        (wishes.parse_weight, "0", 0), (wishes.parse_weight, "2.5", 2.5),
    ],
)  # fmt: skip
def test_read_as_typed(parse: Any, text: str, value: float | None) -> None:
    assert parse(text) == (None if value is None else pytest.approx(value))


@pytest.mark.parametrize(
    ("parse", "text", "field"),
    [
        (wishes.parse_heading, "181", "heading_deg"), (wishes.parse_heading, "", "heading_deg"),
        (wishes.parse_pan, "90 in 0", "pan_deg_s"), (wishes.parse_pan, "7200 in 1", "pan_deg_s"),
        (wishes.parse_pan, "9° in a while", "pan_deg_s"), (wishes.parse_travel, "-1 km/h", "travel_m_s"),
        (wishes.parse_travel, "4000", "travel_m_s"), (wishes.parse_size, "0", "subject_size_m"),
        (wishes.parse_size, "20 km", "subject_size_m"), (wishes.parse_depth, "nan", "depth_m"),
        (wishes.parse_background, "inf", "background_m"), (wishes.parse_lamp, "9", "lamp_hz"),
        (wishes.parse_lamp, "300 kHz", "lamp_hz"), (wishes.parse_light_change, "21", "light_change_stops"),
        (wishes.parse_freeze, "0", "freeze_px"), (wishes.parse_smear, "1001 %", "smear_percent"),
        (wishes.parse_slow_factor, "0.9", "slow_factor"), (wishes.parse_weight, "10.1", "weight"),
        (wishes.parse_weight, "x" * 500, "weight"),
    ],
)  # fmt: skip
def test_refused_beside_the_field_with_what_is_allowed(parse: Any, text: str, field: str) -> None:
    with pytest.raises(RuleError) as caught:
        parse(text)
    assert caught.value.field == field
    assert len(caught.value.rule) > 8


@pytest.mark.parametrize(
    ("name", "text", "low", "high"),
    [
        ("iris", "f/4 to f/8", 4, 8), ("iris", "8..4", 4, 8), ("iso", "500 – 3200", 500, 3200),
        ("nd_density", "0.3 to 3 stops", 0.3, 0.9), ("nd_density", "none to ND8", 0, 0.9),
        ("frame_rate", "25 to 100 fps", 25, 100), ("focal_mm", "24 to 50 mm", 24, 50),
        ("subject_distance_m", "40 cm to 2 m", 0.4, 2),
        # At 25 fps 90 degrees are 1/100 and 180 are 1/50: limits are kept as times.
        ("shutter", "90° to 180°", 0.01, 0.02), ("shutter", "1/100 to 1/50", 0.01, 0.02),
    ],
)  # fmt: skip
def test_limits_in_the_unit_of_their_setting(name: str, text: str, low: float, high: float) -> None:
    limit = parse_limit(setup(), name, text)
    assert limit is not None
    assert (limit.setting, limit.low, limit.high) == (name, pytest.approx(low), pytest.approx(high))


@pytest.mark.parametrize("text", ["f/4", "4 to", "to", "f/4 to f/5.6 to f/8", "wide to small"])
def test_half_a_limit_is_refused(text: str) -> None:
    with pytest.raises(RuleError) as caught:
        parse_limit(setup(), "iris", text)
    assert caught.value.field == "limit_iris"
    assert "f/4 to f/8" in caught.value.rule


def test_no_limit_and_one_value() -> None:
    assert parse_limit(setup(), "iris", " ") is None
    assert is_span("f/4 to f/8")
    assert not is_span("every 6 s")
    assert not is_span("1/50")


NAMES = {"iris": (1.0, 64.0), "iso": (25, 100_000), "nd_density": (0.0, 4.0), "frame_rate": (1.0, 240.0),
         "focal_mm": (8.0, 800.0), "subject_distance_m": (0.1, 500.0), "shutter": (1e-4, 0.04)}  # fmt: skip


@given(st.sampled_from(sorted(NAMES)), st.data())
def test_a_limit_written_reads_back(name: str, data: Any) -> None:
    low, high = NAMES[name]
    ends = sorted(data.draw(st.tuples(st.floats(low, high), st.floats(low, high))))
    if name in ("iso", "frame_rate"):
        ends = [round(end) for end in ends]
    if name == "nd_density":
        ends = [round(end, 1) for end in ends]
    text = format_limit(Limit(name, *ends))
    again = parse_limit(setup(), name, text)
    assert again is not None
    assert (again.low, again.high) == (pytest.approx(ends[0], rel=0.02, abs=2e-3),
                                       pytest.approx(ends[1], rel=0.02, abs=2e-3))  # fmt: skip


@given(st.floats(0, 180))
def test_a_heading_written_reads_back(degrees: float) -> None:
    assert wishes.parse_heading(wishes.format_heading(degrees)) == pytest.approx(degrees, abs=0.06)


@pytest.mark.parametrize(
    ("metres", "text"),
    [(0.0042, "4.2 mm"), (0.05, "50 mm"), (0.38, "38 cm"), (0.125, "12.5 cm"), (2.4, "2.4 m"),
     (12.34, "12.3 m"), (140, "140 m"), (1200, "1.2 km"), (float("inf"), "no end")],
)  # fmt: skip
def test_lengths_in_the_unit_people_say(metres: float, text: str) -> None:
    assert format_length(metres) == text


@given(st.floats(*DISTANCE_RANGE_M))
def test_every_length_has_a_unit(metres: float) -> None:
    number, unit = format_length(metres).split()
    size = float(number) * {"mm": 0.001, "cm": 0.01, "m": 1, "km": 1000}[unit]
    assert size == pytest.approx(metres, rel=0.06)

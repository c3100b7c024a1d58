"""Runs as people type them: lengths, light curves, passes and moments."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.errors import RuleError
from fotonomy.core.parsing import stills as rn
from fotonomy.core.spec.stills import LightPoint

spans = st.floats(1, 3e7).map(lambda s: round(s, 2))


@given(spans)
def test_spans_round_trip(seconds: float) -> None:
    text = rn.format_span(seconds)
    assert rn.parse_span("event", text, (0, 1e9), "") == pytest.approx(seconds, abs=0.006)


@pytest.mark.parametrize(
    ("text", "seconds"),
    [("8 h 2 min 15 s", 28_935), ("1:30", 5400), ("1:30:15", 5415), ("90 min", 5400), ("2 d", 172_800),
     ("45", 45), ("1,5 h", 5400), ("3 hours", 10_800), ("2h30min", 9000)],
)  # fmt: skip
def test_lengths_as_people_type_them(text: str, seconds: float) -> None:
    assert rn.parse_event(text) == seconds


@pytest.mark.parametrize("text", ["", "soon", "8 h 2", "1:75", "9 y", "-5 min", "400 d", "h"])
def test_lengths_that_are_none_are_refused(text: str) -> None:
    with pytest.raises(RuleError):
        rn.parse_event(text)


@given(st.lists(st.tuples(st.integers(0, 90_000), st.floats(-11, 22).map(lambda e: round(e, 1))),
                min_size=1, max_size=20, unique_by=lambda p: p[0]))  # fmt: skip
def test_light_curves_round_trip(points: list[tuple[int, float]]) -> None:
    curve = tuple(LightPoint(float(at), ev) for at, ev in sorted(points))
    assert rn.parse_light_curve(rn.format_light_curve(curve)) == curve


def test_light_curves_as_people_type_them() -> None:
    wanted = (LightPoint(0, 12), LightPoint(2400, 9), LightPoint(4200, -2.5))
    assert rn.parse_light_curve("0 min 12 EV; 40 min EV 9; 1:10 −2,5") == wanted
    assert rn.parse_light_curve("0 12\n40 min 9\n1:10 -2.5") == wanted
    assert rn.parse_light_curve("steady") == ()
    with pytest.raises(RuleError, match="not later"):
        rn.parse_light_curve("0 min 12; later 9")


@pytest.mark.parametrize(
    ("parse", "text", "value"),
    [(rn.parse_passes, "120 an hour", 30), (rn.parse_passes, "every 8 s", 8), (rn.parse_passes, "none", None),
     (rn.parse_passes, "2 a minute", 30), (rn.parse_moment, "1/20", 0.05), (rn.parse_moment, "50 ms", 0.05),
     (rn.parse_declination, "30 S", -30), (rn.parse_declination, "none", None), (rn.parse_self_timer, "off", 0),
     (rn.parse_start_after, "2 h", 7200), (rn.parse_trail, "60 %", 60), (rn.parse_frames, "3 exposures", 3),
     (rn.parse_temperature, "−5 °C", -5), (rn.parse_bursts, "20 an hour", 20)],
)  # fmt: skip
def test_what_people_type_about_a_run(parse: Any, text: str, value: Any) -> None:
    assert parse(text) == (value if value is None else pytest.approx(value))

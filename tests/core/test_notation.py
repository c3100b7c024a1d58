"""What people type is understood, or refused in words; what is shown reads back the same."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.errors import RuleError
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import (
    parse_density,
    parse_distance,
    parse_focal,
    parse_frame_rate,
    parse_iris,
    parse_iso,
    parse_key_stops,
    parse_light,
    parse_screen_time,
    parse_shutter,
    parse_speed,
)
from fotonomy.core.parsing.white_balance import parse_source
from fotonomy.core.photometry.exposure_value import Ev100, Luminance, Lux, Metered


@pytest.mark.parametrize(
    ("text", "shutter"),
    [
        ("1/50", Shutter(time_s=1 / 50)), ("1/50 s", Shutter(time_s=1 / 50)),
        (" 1 / 50", Shutter(time_s=1 / 50)), ("50", Shutter(time_s=1 / 50)),
        ("0,5", Shutter(time_s=0.5)), ("2 s", Shutter(time_s=2)), ('15"', Shutter(time_s=15)),
        ("180°", Shutter(angle_deg=180)), ("172,8 deg", Shutter(angle_deg=172.8)),
        ("20 ms", Shutter(time_s=0.02)), ("1 min", Shutter(time_s=60)),
    ],
)  # fmt: skip
def test_shutters(text: str, shutter: Shutter) -> None:
    assert parse_shutter(text) == shutter


def test_a_bare_number_follows_the_body() -> None:
    # A bare number is asked back where a person types one: degrees, a part of a second, seconds?
    with pytest.raises(RuleError, match="90°, 1/90 or 90 s: say which"):
        parse_shutter("90", ask_bare=True)
    assert parse_shutter("90°", ask_bare=True) == Shutter(angle_deg=90)
    assert parse_shutter("1/90", ask_bare=True).time_s == pytest.approx(1 / 90)


@pytest.mark.parametrize(
    ("text", "density"),
    [("0.9", 0.9), ("0,9", 0.9), ("ND 0.9", 0.9), ("ND8", 0.9), ("nd 64", 1.8), ("1/8", 0.9),
     ("3 stops", 0.9), ("10 stops", 3.0), ("none", 0), ("0", 0), ("ND1000", 3.0), (".3", 0.3)],
)  # fmt: skip
def test_densities_by_all_three_names(text: str, density: float) -> None:
    assert parse_density(text) == pytest.approx(density)


@pytest.mark.parametrize(
    ("text", "light"),
    [("12.3", Ev100(12.3)), ("EV 12,3", Ev100(12.3)), ("-3 EV", Ev100(-3)), ("−3", Ev100(-3)),
     ("8000 lux", Lux(8000)), ("12 600 lx", Lux(12600)), ("0,2 lx", Lux(0.2)),
     ("320 cd/m2", Luminance(320)), ("320 cd/m²", Luminance(320)),
     ("f/4 1/60 ISO 400", Metered(4, 1 / 60, 400)), ("f5.6, 2 s, 800", Metered(5.6, 2, 800))],
)  # fmt: skip
def test_light_in_every_unit(text: str, light: object) -> None:
    assert parse_light(text) == light


@pytest.mark.parametrize(
    ("text", "fps"),
    [("25", 25), ("25p", 25), ("23,976 fps", 23.976), ("24000/1001", 24000 / 1001),
     ("every 15 s", 1 / 15), ("1/15", 1 / 15), ("every 2 min", 1 / 120)],
)  # fmt: skip
def test_frame_rates(text: str, fps: float) -> None:
    assert parse_frame_rate(text) == pytest.approx(fps)


@pytest.mark.parametrize(
    ("parse", "text", "value"),
    [
        (parse_iris, "f/4", 4), (parse_iris, "F2,8", 2.8), (parse_iris, "T 1.5", 1.5),
        (parse_iso, "ISO 640", 640), (parse_iso, "12 800", 12800),
        (parse_iso, "12.8k", 12800),
        (parse_speed, "36 km/h", 10), (parse_speed, "10 mph", 4.4704), (parse_speed, "0", 0),
        (parse_distance, "40 cm", 0.4), (parse_distance, "2,5", 2.5),
        (parse_key_stops, "+1 1/3", 4 / 3), (parse_key_stops, "-2 stops", -2),
        (parse_key_stops, "2/3", 2 / 3), (parse_source, "5600K", 5600),
        (parse_screen_time, "1,5 min", 90), (parse_focal, "50mm", 50),
    ],
)  # fmt: skip
def test_units_may_be_typed_along(parse: object, text: str, value: float) -> None:
    assert parse(text) == pytest.approx(value)  # type: ignore[operator]


NONSENSE = [
    "", "   ", "abc", "1e999", "nan", "inf", "--5", "5 parsecs", "1/0", "0", "-1", "9" * 40,
    "<b>4</b>", "4;8", "1//50", "f/", "\x00", "💡", "1" * 5000, "ISO", "½",
]  # fmt: skip


@pytest.mark.parametrize("text", NONSENSE)
@pytest.mark.parametrize(
    "parse",
    [parse_shutter, parse_iris, parse_iso, parse_frame_rate, parse_focal, parse_source,
     parse_screen_time, parse_distance],
)  # fmt: skip
def test_nonsense_is_refused_with_what_is_allowed(parse: object, text: str) -> None:
    with pytest.raises(RuleError) as caught:
        parse(text)  # type: ignore[operator]
    assert len(caught.value.rule) > 5


@pytest.mark.parametrize("text", ["8", "2", "64", "-0.3", "9.9", "ND", "thick", ""])
def test_an_ambiguous_density_is_asked_back(text: str) -> None:
    with pytest.raises(RuleError):
        parse_density(text)


@given(st.text(max_size=30))
def test_no_text_makes_a_parser_fall_over(text: str) -> None:
    for parse in (parse_light, parse_shutter, parse_density, parse_frame_rate, parse_iso):
        try:
            parse(text)
        except RuleError:
            continue


@given(st.integers(3, 80_000))
def test_times_read_back(thousandths: int) -> None:
    for time_s in (thousandths / 1000, 1 / thousandths):
        shown = n.format_shutter(Shutter(time_s=time_s))
        back = parse_shutter(shown).time_s
        assert back == pytest.approx(time_s, rel=2e-3)
        assert n.format_shutter(parse_shutter(shown)) == shown


@given(st.floats(-11, 23).map(lambda v: round(v, 2)))
def test_light_reads_back(ev: float) -> None:
    assert parse_light(n.format_light(Ev100(ev))) == Ev100(ev)


def test_how_numbers_are_shown() -> None:
    assert n.format_time(1 / 50) == "1/50"
    assert n.format_time(1 / 48) == "1/48"
    assert n.format_time(0.4) == "0.4 s"
    assert n.format_time(150) == "2 min 30 s"
    assert n.format_frame_rate(24000 / 1001) == "23.976"
    assert n.format_frame_rate(1 / 15) == "every 15 s"
    assert n.format_density(0.9) == "0.9"
    assert n.format_density(0) == "none"
    assert n.format_signed(-4) == "−4.0"
    assert n.format_signed(-0.01) == "0.0"
    assert n.format_duration(28_935) == "8 h 2 min"
    assert n.format_duration(277_200) == "3 d 5 h"
    assert n.format_compact(12_594) == "12\u202f600"

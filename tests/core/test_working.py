"""The working of a number is the code that computes it: same value, in symbols and with numbers."""

from dataclasses import replace
from math import isfinite, log2
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.analysis.traced_analysis import named_analysis
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.body import Sensor
from fotonomy.core.gear.filters import Filter, FilterKind
from fotonomy.core.motion.camera_movement import Camera, Movement, Way
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.exposure_value import Ev100, Luminance, Lux, Metered
from fotonomy.core.plan import plan
from fotonomy.core.spec.intent import ExposureMethod, Handheld, Intent
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.readings import Reading, Surface
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Combining
from fotonomy.core.traced_numbers import MARKED, Named, NamedCount, Names, plain
from fotonomy.core.working.catalog import COMMON, OF_KIND, quantity_of, value_in
from fotonomy.core.working.explain import all_workings, names_in, nudges, working_of
from fotonomy.core.working.in_signs import functions_of
from fotonomy.core.working.quantity import NoSuchNumberError
from fotonomy.core.working.sources import SOURCES
from fotonomy.core.working.symbols import number_text, symbol_of, unit_of, words_of
from fotonomy.core.working.written import as_text, formula_lines, formulas_page
from tests.core.examples import FLAT, VIDEO, setup
from tests.core.run_examples import burst, interval, long_exposure
from tests.properties import examples

FACE = Reading(name="face", stops=1.0, surface=Surface.LIGHT_SKIN, key=True)
LIGHTS = st.one_of(
    st.floats(-2, 16).map(Ev100), st.floats(0.1, 100_000).map(Lux), st.floats(0.1, 20_000).map(Luminance),
    st.builds(Metered, st.sampled_from([1.8, 4.0, 5.6, 7.3]), st.floats(0.001, 10), st.floats(100, 3200)),
)  # fmt: skip
MOVES = st.builds(
    Movement, camera=st.sampled_from(list(Camera)), heading_deg=st.floats(0, 180),
    pan_deg_s=st.floats(0.1, 40), travel_m_s=st.floats(0.1, 30), way=st.sampled_from(list(Way)),
    background_m=st.none() | st.floats(5, 200),
)  # fmt: skip
CHANGES = st.fixed_dictionaries({}, optional={
    "light": LIGHTS, "movement": MOVES, "iris": st.sampled_from([1.8, 2.0, 2.8, 3.3, 5.6, 11.0, 22.0]),
    "iso": st.sampled_from([100, 400, 500, 640, 3200, 12_800]), "nd_density": st.floats(0, 3),
    "subject_speed_m_s": st.floats(0, 30), "subject_distance_m": st.floats(0.2, 500),
    "white_k": st.floats(2000, 9000), "source_k": st.none() | st.floats(2000, 9000),
    "white_bias_mired": st.floats(-50, 50), "profile": st.sampled_from([FLAT, VIDEO]),
    "handle_s": st.floats(0, 4), "wanted_screen_s": st.floats(0.5, 60), "mains_hz": st.sampled_from([50, 60]),
    "intent": st.builds(Intent, exposing=st.sampled_from(list(ExposureMethod)), handheld=st.sampled_from(list(Handheld)),
                        freeze_px=st.none() | st.floats(0.5, 20), depth_m=st.none() | st.floats(0.1, 3)),
    "readings": st.just((FACE, Reading(name="sky", stops=4.2), Reading(name="shade", stops=-3.0))),
})  # fmt: skip
VIDEO_CHANGES = st.fixed_dictionaries({}, optional={
    "frame_rate": st.sampled_from([23.976, 24, 25, 29.97, 50, 100]),
    "shutter": st.one_of(st.floats(11, 360).map(lambda a: Shutter(angle_deg=a)),
                         st.floats(0.0005, 0.01).map(lambda t: Shutter(time_s=t))),
})  # fmt: skip


@st.composite
def setups(draw: st.DrawFn) -> Setup:
    """Setups of every kind, as wild as a scene may be."""
    made = draw(st.sampled_from((setup, interval, burst, long_exposure)))
    changes: dict[str, Any] = draw(CHANGES)
    if made is setup:
        changes |= draw(VIDEO_CHANGES)
    try:
        return replace(made(), **changes)
    except RuleError:
        return made()


def same(one: Any, other: Any) -> bool:
    """Equal to the last digit, infinity and all."""
    return bool(one == other or (one != one and other != other))


# As many as a run has patience for; the identity holds for every number of each of them.
@examples(250)
@given(setups())
def test_every_working_comes_to_what_the_plan_shows(made: Setup) -> None:
    analysis = analyse(made)
    worked = all_workings(analysis)
    assert len(worked) >= 70
    for name, value in worked.items():
        assert same(value, value_in(analysis, name)), name


@examples(60)
@given(setups())
def test_the_lines_end_in_the_number_and_every_input_has_its_own_working(made: Setup) -> None:
    analysis = analyse(made)
    for name in names_in(analysis):
        found = working_of(analysis, name, levers=False)
        if found.lines:
            assert same(found.lines[-1].value, found.value), name
            assert found.lines[-1].symbol == found.quantity.symbol
        for one in found.inputs:
            if one.name:
                inner = working_of(analysis, one.name, levers=False)
                assert inner.value is not None, (name, one.name)


@examples(60)
@given(setups())
def test_every_number_that_is_named_has_a_working(made: Setup) -> None:
    """What a page marks is what the catalogue knows."""
    analysis = named_analysis(analyse(made), Names(""))
    found: list[str] = []

    def gather(record: Any) -> None:
        if isinstance(record, Named | NamedCount):
            found.append(record.address)
        elif isinstance(record, tuple):
            for part in record:
                gather(part)
        elif hasattr(record, "path_"):
            for name in record.__dataclass_fields__:
                gather(getattr(record, name))

    gather(analysis)
    assert len(found) > 80
    for name in found:
        assert same(working_of(analyse(made), name, levers=False).value, value_in(analysis, name))


def test_smear_as_one_would_write_it() -> None:
    """100 · 1.4 m/s · 1/50 s / 2.25 m = 1.244 %: worked by hand, definition of motion blur."""
    made = setup(subject_speed_m_s=1.4, subject_distance_m=3.1745)
    found = working_of(analyse(made), "motion.smear_percent")
    last = found.lines[-1]
    assert (last.symbol, last.formula) == ("smear", "v · t / w")
    width = value_in(analyse(made), "motion.field_width_m")
    assert last.numbers == f"1.4 m/s · 0.02 s / {number_text(width, 'm')}"
    assert found.value == pytest.approx(100 * 1.4 / 50 / width, rel=1e-12)
    assert [one.name for one in found.inputs] == [
        "setup.mover.speed_m_s", "setup.time_s", "motion.field_width_m",
    ]  # fmt: skip
    assert found.source.id == "definition"


def test_the_balance_is_the_sum_of_its_entries() -> None:
    """EV 12, 1/50, f/5.6, ISO 500, ND 0.9: 12 − 5.644 − 5 + 2.322 − 2.990 = 0.688 (by hand)."""
    found = working_of(analyse(setup()), "budget.error_stops")
    assert found.value == pytest.approx(12 - log2(50) - 5 + log2(5) - 0.9 / 0.30103, abs=1e-6)
    assert found.lines[-1].formula == "Scene light + Shutter + Iris + ISO + ND"
    assert found.lines[-1].numbers == "12 − 5.6439 − 5 + 2.3219 − 2.9897"
    assert found.levers[0].change == pytest.approx(1 / 3, abs=0.03)


def test_each_lever_is_the_plan_worked_out_again() -> None:
    analysis = analyse(setup(subject_speed_m_s=2.0))
    found = working_of(analysis, "motion.smear_percent")
    moved = {what: made for _, what, made in nudges(analysis.setup)}
    for lever in found.levers:
        there = value_in(analyse(moved[lever.what]), "motion.smear_percent")
        assert lever.to == there
        assert lever.change == pytest.approx(there - found.value)
    # A third of a stop longer open is 26 % more smear (2^(1/3)).
    by_what = {one.what: one for one in found.levers}
    assert by_what["one third longer open"].to / found.value == pytest.approx(2 ** (1 / 3))


def test_pressing_a_setting_says_what_moving_it_would_do() -> None:
    """One third more ISO, 500 to 640: 0.356 stop by the marks (log2 1.28)."""
    found = working_of(analyse(setup()), "setup.iso")
    assert (found.value, found.lines, found.source.id) == (500, (), "you")
    assert found.moved == "one third more ISO"
    effects = {one.name: one for one in found.effects}
    light = effects["budget.error_stops"]
    assert light.after - light.before == pytest.approx(log2(640 / 500))
    # What is over is taken back in the edit, and the noise with it.
    assert set(effects) == {"budget.error_stops", "level.key.percent"}


def test_a_branch_says_why_it_was_taken() -> None:
    found = working_of(analyse(setup(subject_speed_m_s=1.0)), "setup.mover.speed_m_s")
    assert found.lines[-1].when == "as growth ≤ 10⁻⁹ m/s"
    near = analyse(setup(subject_distance_m=0.3))
    assert working_of(near, "focus.bellows_stops").lines[0].symbol == "share"


@pytest.mark.parametrize("name", ["motion.nothing", "budget", "__class__", "derived.nothing", "",
                                  "setup.__init__", "level.tones.0._x", "budget.lines", "setup.body",
                                  "setup.limit_on", "setup.title", "setup.shutter.seconds", "setup.held",
                                  "setup.readings.0", "setup.body.formats.0.rates", "setup.mains_lamps",
                                  "setup.profile.curve", "a.b.c", ".", "..", "setup."])  # fmt: skip
def test_what_is_no_number_is_refused(name: str) -> None:
    with pytest.raises(NoSuchNumberError):
        working_of(analyse(setup()), name)


def test_a_number_this_plan_has_not_is_none() -> None:
    still = analyse(setup(subject_speed_m_s=0.0))
    found = working_of(still, "motion.crossing_s")
    assert (found.value, found.lines, found.levers) == (None, (), ())


@pytest.mark.parametrize("make", [setup, interval, burst, long_exposure])
def test_a_body_that_says_little_has_workings_of_what_is_left(make: Any) -> None:
    """No readout, no sensor's figures, no engraved close focus, no power: fewer numbers, no error."""
    made = make()
    bare = replace(
        made.body, formats=tuple(replace(one, readout_ms=None) for one in made.body.formats),
        sensor=Sensor(), power_w=None, idle_w=None, still_mp=None,
    )  # fmt: skip
    lens = replace(made.lens, close_focus_m=None, greatest_magnification=None)
    analysis = analyse(replace(made, body=bare, lens=lens, subject_speed_m_s=3.0))
    assert value_in(analysis, "derived.readout_s") is None
    assert value_in(analysis, "shake.lean_deg") is None
    assert all_workings(analysis)


def quantities() -> list[Any]:
    """Every quantity of every kind."""
    return [*COMMON, *(one for found in OF_KIND.values() for one in found)]


@pytest.mark.parametrize("quantity", quantities(), ids=lambda one: one.name)
def test_every_quantity_says_what_it_is_and_where_it_comes_from(quantity: Any) -> None:
    assert quantity.source in SOURCES
    assert quantity.says[0].isupper()
    assert quantity.says.endswith(".")
    for function in functions_of(quantity):
        lines = formula_lines(quantity, function)
        assert not lines or lines[-1].startswith(f"{quantity.symbol} = ")
    if quantity.choose is not None:
        assert quantity.forms, "what may be chosen is told in docs/formulas.md"


def test_every_source_is_used() -> None:
    used = {one.source for one in quantities()}
    assert set(SOURCES) <= used | {
        "ansi-ph2-7", "explanatory", "de421", "kasten", "wmo-8", "wilson",
    }  # fmt: skip


def test_the_page_of_formulas_is_kept_up() -> None:
    kept = Path(__file__).parents[2] / "docs" / "formulas.md"
    assert kept.read_text("utf-8") == formulas_page(), (
        "python -m fotonomy formulas > docs/formulas.md"
    )


def test_a_working_as_text_names_its_inputs() -> None:
    text = as_text(working_of(analyse(setup(subject_speed_m_s=1.4)), "motion.smear_percent"))
    assert "smear = v · t / w" in text
    assert "(setup.time_s)" in text
    assert "Source: By definition" in text


# Names of the code on paper


def test_names_carry_their_units() -> None:
    assert [unit_of(name) for name in ("time_s", "field_m", "speed_m_s", "pan_deg_s", "iso")] == [
        "s", "m", "m/s", "°/s", "",
    ]  # fmt: skip
    assert (symbol_of("setup.focal_mm"), words_of("READ_LOW_E")) == ("f", "read low")


@pytest.mark.parametrize(("value", "unit", "text"), [
    (0.02, "s", "0.02 s"), (1234.5678, "", "1234.6"), (712611.3, "", "712611.3"), (-0.5, "stops", "−0.5 stops"),
    (3.9e-17, "", "0"), (-3.9e-17, "m", "0 m"), (3.9e-10, "", "3.9·10⁻¹⁰"), (float("inf"), "m", "no end"), (180, "°", "180°"),
])  # fmt: skip
def test_numbers_of_a_working_have_five_figures(value: float, unit: str, text: str) -> None:
    assert number_text(value, unit) == text


# Numbers that know what they are


def test_what_is_written_of_a_named_number_leads_to_it() -> None:
    named = Named(1.244, "/w/smear/")
    text = n.format_number(named, 2)
    assert MARKED.fullmatch(text)
    assert (plain(text), MARKED.fullmatch(text)[1]) == ("1.24", "/w/smear/")  # type: ignore[index]
    assert plain(f"{NamedCount(250, '/w/frames/')} frames") == "250 frames"
    assert n.format_number(1.244, 2) == "1.24"


def test_what_is_worked_out_of_a_named_number_is_plain() -> None:
    named = Named(2.0, "/w/x/")
    assert not isinstance(named * 1, Named)
    assert not isinstance(named + 0, Named)
    assert isinstance(abs(Named(-2.0, "/w/x/")), Named)
    assert n.format_stops(Named(-0.7, "/w/y/")) != "0.7 stops"


def test_a_plan_without_names_has_no_marks() -> None:
    for made in (setup(), interval(), burst(), long_exposure()):
        planned = plan(made)
        said = [one.what + one.why for one in planned.findings] + [i.value for i in planned.readout]
        assert all(plain(text) == text for text in said)


def test_a_plan_with_names_says_the_same() -> None:
    """Names change what a number leads to, never what is planned, found or said."""
    for made in (setup(iris=11.0, subject_speed_m_s=3.0), interval(), burst(), long_exposure()):
        bare, named = plan(made), plan(made, Names("/w/", "/"))
        assert [plain(one.what + one.why) for one in named.findings] == [
            one.what + one.why for one in bare.findings
        ]
        assert [one.number for one in named.findings] == [one.number for one in bare.findings]
        assert [[fix.changes for fix in one.fixes] for one in named.findings] == [
            [fix.changes for fix in one.fixes] for one in bare.findings
        ]
        assert [plain(one.value) for one in named.readout] == [one.value for one in bare.readout]


def test_properties_of_results_are_named_too() -> None:
    analysis = named_analysis(analyse(setup()), Names("/w/", "/"))
    assert isinstance(analysis.budget.exposure_stops, Named)
    assert analysis.budget.exposure_stops.address == "/w/budget.exposure_stops/"
    assert isfinite(analysis.budget.exposure_stops)


def test_entries_of_the_budget_are_named_by_their_keys_and_twins_by_their_place() -> None:
    twice = tuple(
        Filter(name=f"Mist {k}", kind=FilterKind.DIFFUSION, stops=0.1 * k, thread_mm=67)
        for k in (1, 2)
    )
    analysis: Analysis = named_analysis(analyse(setup(filters=twice)), Names(""))
    found = {line.stops.address: float(line.stops) for line in analysis.budget.lines}  # type: ignore[attr-defined]
    assert found["budget.lines.filter.stops"] == pytest.approx(-0.1)
    assert found["budget.lines.6.stops"] == pytest.approx(-0.2)
    assert value_in(analysis, "budget.lines.6.stops") == pytest.approx(-0.2)


def test_gear_and_settings_are_given() -> None:
    analysis = analyse(setup())
    for name, source in (("setup.body.iso_ceiling", "gear"), ("setup.iris", "you")):
        found = working_of(analysis, name)
        assert found.source.id == source
    assert quantity_of(Kind.REAL_TIME, "setup.run.combining").source == "you"
    assert value_in(analyse(long_exposure(run={"combining": Combining.ADDITIVE, "frames": 4})),
                    "budget.lines.combined.stops") == 2  # fmt: skip

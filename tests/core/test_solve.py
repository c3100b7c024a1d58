"""The search against brute force, its promises, and what it says where nothing fits."""

from dataclasses import replace
from itertools import product
from typing import Any

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.exposure.scales import OFFERS
from fotonomy.core.gear.body import RecordingRate
from fotonomy.core.gear.filters import Filter, FilterKind
from fotonomy.core.gear.lens import Lens
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.motion.camera_movement import Camera, Movement
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.parsing.table import SETTINGS as TABLE
from fotonomy.core.photometry.exposure_value import Ev100, ev100_of
from fotonomy.core.plan import plan
from fotonomy.core.planner import search_space as allowed
from fotonomy.core.planner.cost import Yardstick, judge
from fotonomy.core.planner.plans import solve
from fotonomy.core.planner.presets import preset_for
from fotonomy.core.planner.relaxation import changes_to
from fotonomy.core.planner.search import TOLERANCE_STOPS, Search
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.intent import CRITERIA, ExposureMethod, Intent, Look
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.readings import Reading
from fotonomy.core.spec.setup import FRAMING, SETTINGS, Limit, Setup
from fotonomy.exchange.changes_json import text_of
from tests.core.examples import BODY, FLAT, LENS, ND, VIDEO, setup, with_typed_setting
from tests.properties import examples

WIDE = Lens(name="Wide 20", focal_shortest_mm=20, focal_longest_mm=20, widest_f=1.8, smallest_f=16,
            thread_mm=67, close_focus_m=0.25)  # fmt: skip
LONG = Lens(name="Long", focal_shortest_mm=70, focal_longest_mm=200, widest_f=4, smallest_f=22,
            widest_long_f=5.6, thread_mm=77, close_focus_m=1.2)  # fmt: skip
# Small enough to try every combination one by one.
SMALL_BODY = replace(
    BODY, angles_deg=(90, 180, 360), iso_lowest=400, iso_highest=1600, iso_ceiling=1250,
    formats=(replace(BODY.formats[0], rates=(RecordingRate(25, 100), RecordingRate(50, 150))),),
)  # fmt: skip
SMALL_LENS = replace(LENS, widest_f=2.8, smallest_f=8)


def brute_force(spec: Setup) -> tuple[float, Setup] | None:
    """Every combination, judged one by one: no arrays, no shortcuts."""
    yardstick = Yardstick(spec)
    found = []
    for place in allowed.standpoints(spec):
        for (rate, shutter), iris, iso, stack in product(
            list(allowed.shutters(place)), allowed.irises(place), allowed.iso_values(place),
            allowed.stacks_for(place),
        ):  # fmt: skip
            one = replace(place, frame_rate=rate, shutter=shutter, iris=iris, iso=iso,
                          nd_density=stack.density)  # fmt: skip
            if abs(light_budget(one).error_stops) <= TOLERANCE_STOPS:
                found.append((judge(one, yardstick).score, one))
    return min(found, key=lambda pair: pair[0], default=None)


@st.composite
def questions(draw: Any) -> Setup:
    """A small bag and any wishes, with anything held, free or within limits."""
    held = draw(st.sets(st.sampled_from([*SETTINGS, *FRAMING])))
    intent = Intent(
        look=draw(st.sampled_from(list(Look))),
        freeze_px=draw(st.sampled_from([None, 2.0, 20.0])),
        smear_percent=draw(st.sampled_from([None, 1.0])),
        depth_m=draw(st.sampled_from([None, 0.2, 3.0])),
        emphasis=draw(st.sampled_from([(), (("noise", 4.0),), (("glass", 0.0), ("look", 3.0))])),
    )
    limits = draw(st.sampled_from(
        [(), (Limit("iris", 4, 5.6),), (Limit("iso", 400, 800), Limit("subject_distance_m", 2, 5))]
    ))  # fmt: skip
    return setup(
        body=SMALL_BODY, lens=SMALL_LENS, profile=draw(st.sampled_from([FLAT, VIDEO])),
        glass=draw(st.sampled_from([(), ND[:2], ND])), held=frozenset(held), limits=limits,
        packed_lenses=() if "lens" in held else (WIDE,), intent=intent,
        light=Ev100(draw(st.floats(4, 15))), subject_speed_m_s=draw(st.sampled_from([0, 0.5, 6])),
        mains_lamps=draw(st.booleans()), frame_rate=draw(st.sampled_from([25, 50])),
        iris=draw(st.sampled_from([2.8, 5.6])), iso=draw(st.sampled_from([500, 1000])),
        nd_density=draw(st.sampled_from([0.0, 0.9])),
        kind=draw(st.sampled_from([Kind.REAL_TIME, Kind.SLOW_MOTION])),
    )  # fmt: skip


@examples(25)
@given(questions())
def test_the_search_finds_what_brute_force_finds(spec: Setup) -> None:
    search = Search(spec)
    assume(search.count < 30_000)
    slow, fast = brute_force(spec), search.best()
    assert (slow is None) == (fast is None)
    if slow and fast:
        assert fast.score == pytest.approx(slow[0], abs=1e-6)


@examples(25)
@given(questions(), st.sampled_from([-5.0, -4 / 3, -1 / 3, 2 / 3, 3.0]))
def test_a_search_in_other_light_is_the_search_of_that_light(spec: Setup, moved: float) -> None:
    light = Ev100(ev100_of(spec.light) + moved)
    there, asked = Search(replace(spec, light=light)).best(), Search(spec).best(light=light)
    assert (there is None) == (asked is None)
    if there is not None and asked is not None:
        assert asked.score == pytest.approx(there.score, abs=1e-9)
        assert asked.setup.light == light
        assert asked.judgement.error_stops == pytest.approx(there.judgement.error_stops)


TURNING = Filter(name="Turning", kind=FilterKind.VARIABLE_ND, stops=1, most_stops=3, thread_mm=67)
ZOOM = replace(SMALL_LENS, name="Zoom", focal_shortest_mm=24, focal_longest_mm=35)


@pytest.mark.parametrize("light", [11.5, 12.5, 13.5])
@pytest.mark.parametrize("focal", [24.0, 35.0])
def test_standpoints_of_one_thread_keep_their_own_glass(light: float, focal: float) -> None:
    # A variable ND stays off under 28 mm equivalent: one zoom, one thread, two racks of glass.
    spec = setup(
        body=SMALL_BODY, lens=ZOOM, focal_mm=focal, glass=(TURNING, *ND[:1]), light=Ev100(light),
        nd_density=0.0, held=frozenset({"frame_rate", "subject_distance_m", "lens"}),
    )  # fmt: skip
    slow, search = brute_force(spec), Search(spec)
    racks = {len(stand.stacks) for stand in search.stands}
    assert len(racks) == 2
    fast = search.best()
    assert (slow is None) == (fast is None)
    if slow is not None and fast is not None:
        assert fast.score == pytest.approx(slow[0])
        assert fast.judgement.error_stops == pytest.approx(light_budget(fast.setup).error_stops)
    assert search.nearest() is not None


@pytest.mark.parametrize(
    "exposing", [ExposureMethod.HIGHLIGHTS, ExposureMethod.FAR_RIGHT, ExposureMethod.GREY]
)
@pytest.mark.parametrize("present", [160, 500])
def test_under_the_base_the_search_aims_where_the_sensor_ends(
    exposing: ExposureMethod, present: int
) -> None:
    # Asked for by a limit: each ISO there has its own headroom, and so its own aim.
    spec = setup(
        body=replace(SMALL_BODY, iso_lowest=100), lens=SMALL_LENS, iso=present, light=Ev100(14.0),
        glass=ND[:2], readings=(Reading(name="sky", stops=5.0),),
        intent=Intent(exposing=exposing), limits=(Limit("iso", 100, 320),),
        held=frozenset({*FRAMING, "frame_rate"}),
    )  # fmt: skip
    slow, fast = brute_force(spec), Search(spec).best()
    assert slow is not None
    assert fast is not None
    assert fast.score == pytest.approx(slow[0])
    assert abs(light_budget(fast.setup).error_stops) <= TOLERANCE_STOPS


@examples(40)
@given(questions(), st.sampled_from([*SETTINGS, *FRAMING]))
def test_freeing_a_setting_never_makes_it_worse(spec: Setup, name: str) -> None:
    limits = tuple(limit for limit in spec.limits if limit.setting != name)
    freed = replace(spec, held=spec.held - {name}, limits=limits)
    before, after = Search(spec).best(), Search(freed).best()
    if before is not None:
        assert after is not None
        assert after.score <= before.score + 1e-9


@examples(40)
@given(questions(), st.floats(0.3, 4))
def test_more_gear_never_makes_a_setup_impossible(spec: Setup, stops: float) -> None:
    more = replace(
        spec,
        glass=(*spec.glass, Filter(name="new", kind=FilterKind.ND, stops=stops, thread_mm=67)),
        packed_lenses=() if "lens" in spec.held else (*spec.packed_lenses, LONG),
    )
    before, after = Search(spec).best(), Search(more).best()
    if before is not None:
        assert after is not None
        assert after.score <= before.score + 1e-9


@examples(40)
@given(questions())
def test_every_plan_offered_obeys_the_gear_the_limits_and_what_is_held(spec: Setup) -> None:
    answer = solve(spec)
    for one in (answer.best, *answer.alternatives):
        if one is None:
            continue
        planned = one.candidate.setup
        assert abs(one.analysis.budget.error_stops) <= TOLERANCE_STOPS + 1e-9
        for name in SETTINGS:
            offer = OFFERS[name](planned)
            assert offer.index is not None, (name, one)
        assert planned.iso <= planned.body.iso_ceiling or "iso" in spec.held
        assert allowed.in_focus_reach(planned)
        short, long = planned.lens.focal_shortest_mm, planned.lens.focal_longest_mm
        assert short <= planned.focal_mm <= long
        for name in set(SETTINGS) & spec.held - {"nd_density", "shutter"}:
            assert getattr(planned, name) == getattr(spec, name)
        for name, field in (
            ("lens", "lens"),
            ("focal_mm", "focal_mm"),
            ("subject_distance_m", "subject_distance_m"),
        ):
            if name in spec.held:
                assert getattr(planned, field) == getattr(spec, field)
        for limit in spec.limits:
            if limit.setting not in spec.held:
                field = {"subject_distance_m": "subject_distance_m"}.get(
                    limit.setting, limit.setting
                )
                assert limit.holds(getattr(planned, field))
        # What taking it sets, typed as a person would, leads there.
        tried = replace(spec, lens=planned.lens, focal_mm=planned.focal_mm,
                        subject_distance_m=planned.subject_distance_m)  # fmt: skip
        for change in one.changes:
            if change.setting in SETTINGS:
                tried = with_typed_setting(tried, change.setting, text_of(change))
        assert light_budget(tried).error_stops == pytest.approx(
            one.analysis.budget.error_stops, abs=0.02
        )


def test_the_best_plan_keeps_the_half_period_and_the_base() -> None:
    # 1/50 at f/5.6, ISO 500, EV 12: error = 12 + 2.32 - 5.64 - 4.97 = +3.71 stops; the ND that
    # is nearest is 0.9 + 0.3 = 3.99 stops, a third of a stop of iris makes the rest.
    answer = solve(setup(held=frozenset({"frame_rate", "shutter", *FRAMING})))
    assert answer.best is not None
    best = answer.best.candidate.setup
    assert (best.iso, best.shutter, best.frame_rate) == (500, Shutter(angle_deg=180), 25)
    assert density_to_stops(best.nd_density) > 2
    assert {b.setting: b.why for b in answer.best.because}["iso"] == "a base of Flat log"
    assert 1 <= len(answer.alternatives) <= 4
    assert answer.combinations > 4000


def test_wishes_move_the_plan() -> None:
    free = setup(held=frozenset(FRAMING), subject_speed_m_s=4.0)
    plain = Search(free).best()
    deep = Search(replace(free, intent=Intent(depth_m=6.0))).best()
    crisp = Search(replace(free, intent=Intent(look=Look.CRISP))).best()
    frozen = Search(replace(free, intent=Intent(freeze_px=4))).best()
    assert plain
    assert deep
    assert crisp
    assert frozen
    assert deep.setup.iris > plain.setup.iris
    assert crisp.setup.shutter.degrees(crisp.setup.frame_rate) <= 90
    assert frozen.setup.time_s < plain.setup.time_s
    # A weight of nothing takes a criterion out of the score.
    loose = replace(free, intent=Intent(emphasis=tuple((name, 0.0) for name in CRITERIA)))
    error = light_budget(free).error_stops
    assert judge(free, Yardstick(loose)).score == pytest.approx(Yardstick(loose).of_miss(error))


def test_what_a_miss_costs_by_hand() -> None:
    # Nothing but its size while nobody sees it; then more than any taste, in two steps.
    plain = Yardstick(setup(profile=VIDEO))
    assert [plain.of_miss(x) for x in (0.0, 0.18, -0.18)] == [0.0, 0.18, 0.18]
    assert [plain.of_miss(x) for x in (0.19, 0.36, 0.37, -0.5)] == pytest.approx(
        [12.19, 12.36, 36.37, 36.5]
    )
    # On a flat curve and at night what is under counts twice: it is lifted, with its noise.
    flat, night = Yardstick(setup(profile=FLAT)), Yardstick(setup(profile=VIDEO, kind=Kind.NIGHT))
    assert [flat.of_miss(-0.1), flat.of_miss(0.1), night.of_miss(-0.1)] == [0.2, 0.1, 0.2]
    # Where only the shutter could mend it nobody leaves the look of the shot for a third of a stop.
    stuck = Yardstick(setup(profile=VIDEO, held=frozenset({"iris", "iso", "nd_density"})))
    assert [stuck.of_miss(x) for x in (0.36, 0.37)] == pytest.approx([0.36, 36.37])


def test_where_nothing_fits_it_says_what_blocks_and_what_to_buy() -> None:
    # Sun, no glass, f/2 and 1/50 held: 15 + 2.32 - 5.64 - 2 = 9.68 stops over at ISO 500, the
    # lowest base. ND 2.7 takes 8.97 and leaves 0.71, more than a third; ND 3 takes 9.97. f/22 is
    # 6.92 stops and this body's 1/200 two: not even both are enough.
    spec = setup(glass=(), light=Ev100(15), iris=2, nd_density=0.0,
                 held=frozenset({"frame_rate", "shutter", "iris", *FRAMING}))  # fmt: skip
    answer = solve(spec)
    assert answer.best is None
    assert answer.missing_stops == pytest.approx(9.68, abs=0.02)
    assert answer.blocking == ()
    labels = [way.label for way in answer.relaxations]
    assert not any("ISO" in label for label in labels), "under the lowest base, unasked"
    buy = next(way for way in answer.relaxations if "Buy" in way.label)
    # A wanted filter fits: what is left after buying it balances.
    bought = Filter(name="x", kind=FilterKind.ND, stops=density_to_stops(3.0), thread_mm=67)
    assert "ND 3 " in buy.label
    assert Search(replace(spec, glass=(bought,))).best() is not None
    weaker = replace(bought, stops=density_to_stops(2.7))
    assert Search(replace(spec, glass=(weaker,))).best() is None


def test_too_little_light_names_the_ceiling_the_lens_and_the_light() -> None:
    # 1/25 at f/2.8: EV -2 + log2(12800/100) - 4.64 - 2.97 = -2.6 stops.
    spec = setup(light=Ev100(-2), iris=2.8, lens=replace(LENS, widest_f=2.8), nd_density=0.0,
                 held=frozenset({"frame_rate", *FRAMING}))  # fmt: skip
    answer = solve(spec)
    assert answer.missing_stops == pytest.approx(-2.62, abs=0.05)
    labels = " | ".join(way.label for way in answer.relaxations)
    assert "over your ceiling" not in labels  # the body ends at 51200: two stops, and a third
    assert "Find 2.6 stops more light" in labels
    assert "Hire a lens of f/1" in labels
    brighter = next(w for w in answer.relaxations if w.changes and w.changes[0].setting == "light")
    assert brighter.changes == (Change("light", Ev100(0.6)),)
    assert solve(replace(spec, light=Ev100(0.6))).best is not None


def test_a_setting_with_nothing_to_choose_from_is_said() -> None:
    spec = setup(iris=1.2, held=frozenset({"iris", *FRAMING}))
    answer = solve(spec)
    assert answer.best is None
    assert answer.missing_stops is None
    assert answer.blocking == ("iris",)


def test_a_drawer_full_of_filters_stays_bounded_and_says_so() -> None:
    drawer = tuple(
        Filter(name=f"f{k}", kind=FilterKind.ND, stops=k * 0.037 + 0.1, thread_mm=67)
        for k in range(300)
    )
    answer = solve(setup(glass=drawer, held=frozenset(FRAMING)))
    assert answer.best is not None
    assert any("276 ND filters" in text for text in answer.left_out)


def test_a_lens_of_another_mount_is_never_offered() -> None:
    body = replace(BODY, mount="wide")
    other, fitting = replace(WIDE, mount="small"), replace(LONG, mount="wide")
    spec = setup(
        body=body,
        packed_lenses=(other, fitting),
        held=frozenset(),
        lens=replace(LENS, mount="wide"),
    )
    assert {place.lens.name for place in allowed.standpoints(spec)} == {LENS.name, "Long"}
    wrong = plan(replace(spec, lens=other, focal_mm=20))
    finding = next(f for f in wrong.findings if f.id == "lens.wrong_mount")
    assert finding.fixes[0].changes == (Change("lens", "Long"),)


def test_moving_away_says_what_it_is_good_for() -> None:
    # Close by with a wish for depth: standing back is what helps, and the reason names it.
    spec = setup(subject_distance_m=1.0, intent=Intent(depth_m=1.5), light=Ev100(5),
                 held=frozenset(SETTINGS) - {"iso", "nd_density", "iris"} | {"lens", "focal_mm"})  # fmt: skip
    best = solve(spec).best
    assert best is not None
    assert best.candidate.setup.subject_distance_m > 1.0
    reason = next(one for one in best.because if one.setting == "subject_distance_m")
    assert "depth of field" in reason.why


def test_many_standpoints_are_thinned_and_said() -> None:
    zooms = tuple(replace(LONG, name=f"zoom {k}", focal_shortest_mm=20 + k) for k in range(12))
    answer = solve(setup(packed_lenses=zooms, held=frozenset()))
    assert answer.best is not None
    assert any("standpoints" in text for text in answer.left_out)


@pytest.mark.parametrize("kind", list(Kind))
@pytest.mark.parametrize("moving", [True, False])
def test_starting_points_fit_the_gear_and_say_why(kind: Kind, moving: bool) -> None:
    spec = setup(subject_speed_m_s=2.0, subject_distance_m=3.0, light=Ev100(9))
    start = preset_for(spec, kind, moving)
    assert start.setup.kind is kind
    assert all(one.why for one in start.because)
    assert set(FRAMING) <= start.setup.held
    # At night between half a period and the whole, as the light asks.
    if kind not in (Kind.INTERVAL, Kind.LONG_EXPOSURE, Kind.NIGHT):
        assert ("shutter" in start.setup.held) or not moving
    for name in ("shutter", "iris", "iso"):
        assert OFFERS[name](start.setup).index is not None, name
    if start.solution is not None:
        assert abs(light_budget(start.setup).error_stops) <= TOLERANCE_STOPS


def test_starting_points_follow_the_trade() -> None:
    spec = setup(subject_speed_m_s=13.9, subject_distance_m=8.0)
    slow = preset_for(spec, Kind.SLOW_MOTION, True).setup
    assert slow.frame_rate == 100
    # 50 km/h is 31 mph: 1/31, and the marked angle next to it at 25 fps is 288 or so.
    rolling = preset_for(spec, Kind.ROLLING, True).setup
    assert rolling.movement == Movement(camera=Camera.TRAVEL, travel_m_s=13.9)
    assert rolling.time_s == pytest.approx(1 / 31, rel=0.1)
    night = preset_for(replace(spec, light=Ev100(4)), Kind.NIGHT, True).setup
    assert (night.iris, night.intent.look) == (1.8, Look.OPEN)
    still = preset_for(spec, Kind.REAL_TIME, False).setup
    assert "iris" in still.held
    # What stands still keeps the half period too: nobody asked for a crisp interview.
    assert "shutter" in still.held
    assert still.time_s == pytest.approx(1 / 50)
    assert still.held_from_start == still.held


@pytest.mark.parametrize(
    ("setting", "low", "high"), [("iris", 5.6, 4), ("lens", 1, 2), ("luck", 1, 2), ("iso", 1, float("nan"))]
)  # fmt: skip
def test_limits_that_make_no_sense_are_refused(setting: str, low: float, high: float) -> None:
    with pytest.raises(RuleError):
        Limit(setting, low, high)


def test_labels_cover_all_that_can_be_held() -> None:
    assert {row.name for row in TABLE if row.holdable} == {*SETTINGS, *FRAMING}
    assert changes_to(setup(), setup()) == ()

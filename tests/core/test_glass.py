"""Glass: what goes on what, wide lenses, and what to get before anything is bought."""

from dataclasses import replace

import pytest

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.gear.filters import Filter, FilterKind, Front, MatteBox, Mount
from fotonomy.core.gear.neutral_density import rack, ring_marks
from fotonomy.core.gear.support import Support
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.plan import plan
from fotonomy.core.planner.plans import solve
from fotonomy.core.planner.search_space import stacks_for
from tests.core.examples import BODY, LENS, ND, RINGS, setup
from tests.core.run_examples import ids

CLIP = Filter(name="Clip", kind=FilterKind.ND, stops=6, mount=Mount.CLIP_ON)
SQUARE = Filter(name="Square", kind=FilterKind.ND, stops=2, mount=Mount.SQUARE)
POLA = Filter(name="Pola", kind=FilterKind.POLARISER, stops=1.5, thread_mm=77)
TURNING = Filter(name="Turning", kind=FilterKind.VARIABLE_ND, stops=2, most_stops=5, thread_mm=67)
BOX = MatteBox(name="Box", largest_mm=95)
WIDE = replace(LENS, name="Wide", focal_shortest_mm=20, focal_longest_mm=20)
PHONE = replace(BODY, name="Phone", fixed_lens=True)
BARE = replace(LENS, name="Bare", thread_mm=None)


@pytest.mark.parametrize(
    ("piece", "front", "goes"),
    [
        (CLIP, Front(67), True), (CLIP, Front(67, clips_in=False), False),
        (SQUARE, Front(67, (BOX,)), True), (SQUARE, Front(67), False),
        (SQUARE, Front(None, (BOX,), carries_box=False), False),
        (POLA, Front(67, RINGS), True), (POLA, Front(67), False), (POLA, Front(None, RINGS), False),
    ],
)  # fmt: skip
def test_what_goes_on_what(piece: Filter, front: Front, goes: bool) -> None:
    assert piece.fits(front) is goes


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({"filters": (CLIP,), "body": PHONE}, "the lens of Phone does not come off"),
        ({"filters": (SQUARE,), "body": PHONE, "lens": BARE, "holders": (BOX,)}, "carries none"),
        ({"filters": (SQUARE,), "support": Support.DRONE, "holders": (BOX,)}, "carries none"),
        ({"filters": (SQUARE,), "holders": ()}, "matte box for 67 mm, and none is packed"),
        ({"filters": (POLA,), "holders": ()}, "a ring 67 to 77 mm would do"),
        ({"filters": (POLA,), "lens": BARE}, "this lens has none"),
    ],
)  # fmt: skip
def test_glass_that_does_not_go_on_is_a_must_fix(changes: dict[str, object], said: str) -> None:
    found = {f.id: f for f in plan(setup(**changes)).findings}["filter.does_not_fit"]
    assert found.severity == "stop"
    assert said in found.why
    assert found.fixes[0].changes[0].value == ()
    assert "filter.does_not_fit" not in ids(plan(setup(filters=(POLA,))))


def test_no_clip_in_glass_is_offered_on_a_body_whose_lens_stays_on() -> None:
    phone = setup(body=PHONE, lens=BARE, glass=(CLIP,), nd_density=0.0)
    assert [s.density for s in analyse(phone).stacks] == [0.0]
    assert len(analyse(replace(phone, body=BODY)).stacks) == 2


def test_a_variable_nd_stays_off_wide_lenses_unless_it_is_held() -> None:
    # Common practice, no source: crossed polarisers darken unevenly, seen from about 28 mm.
    spec = setup(lens=WIDE, focal_mm=20, glass=(*ND, TURNING), held=frozenset(), nd_density=0.7)
    assert all(stack.turned is None for stack in stacks_for(spec))
    assert "nd.variable_wide" in ids(plan(spec))
    for fix in {f.id: f for f in plan(spec).findings}["nd.variable_wide"].fixes:
        nd = next(change.value for change in fix.changes if change.setting == "nd_density")
        assert "nd.variable_wide" not in ids(plan(replace(spec, nd_density=nd)))
    normal = replace(spec, lens=LENS, focal_mm=50)
    assert any(stack.turned is not None for stack in stacks_for(normal))
    assert "nd.variable_wide" not in ids(plan(normal))
    # Nor does the way out of too much light lead to one.
    bright = replace(spec, light=Ev100(15), nd_density=0.0, held=frozenset({"iris", "shutter"}))
    by_density = {s.density: s for s in analyse(bright).stacks}
    offered = [
        change.value for finding in plan(bright).findings for fix in finding.fixes
        for change in fix.changes if change.setting == "nd_density"
    ]  # fmt: skip
    assert offered
    assert all(by_density[density].turned is None for density in offered)


def test_a_variable_nd_near_its_end() -> None:
    # 2 to 5 stops are densities 0.6 to 1.5 in nine steps: 1.4 is 8/9 of the way, 1.5 the end.
    spec = setup(glass=(TURNING,), nd_density=1.5)
    found = {f.id: f for f in plan(spec).findings}["nd.variable_end"]
    assert found.number == pytest.approx(100.0)
    assert "nd.variable_end" not in ids(plan(replace(spec, nd_density=1.4)))


def test_a_polariser_on_a_wide_lens() -> None:
    # Common practice, no source: the sky is polarised in a band.
    wide = setup(lens=WIDE, focal_mm=20, filters=(POLA,))
    found = {f.id: f for f in plan(wide).findings}["filter.polariser_wide"]
    # 20 mm on a 41.3 mm diagonal: 21 mm in full frame.
    assert found.number == pytest.approx(20.95, abs=0.05)
    assert found.fixes[0].price_stops == pytest.approx(1.5)
    assert "filter.polariser_wide" not in ids(plan(setup(filters=(POLA,))))


def test_a_ring_is_named_before_any_glass_to_buy() -> None:
    sun = setup(
        light=Ev100(15), holders=(), nd_density=0.0, iris=2.8,
        held=frozenset({"iris", "shutter", "iso", "frame_rate", "lens", "focal_mm",
                        "subject_distance_m"}),
    )  # fmt: skip
    said = [one.label for one in solve(sun).relaxations]
    assert any("step ring 67 to 77 mm" in label for label in said)
    assert not any("Buy or hire an ND" in label for label in said)
    none_owned = [one.label for one in solve(replace(sun, glass=())).relaxations]
    assert any("Buy or hire an ND" in label for label in none_owned)


def test_a_rate_that_this_format_lacks_names_those_that_have_it() -> None:
    spec = setup(frame_rate=200)
    found = {f.id: f for f in plan(spec).findings}["frame_rate.gear_lacks"]
    assert found.fixes[0].label == "record HD crop, it does 200 fps"
    assert found.fixes[0].changes[0].value == "HD crop"
    assert {change.value for fix in found.fixes[1:] for change in fix.changes} <= {50, 100}


@pytest.mark.parametrize(
    ("least", "most", "marks", "last"),
    [(1, 9, 25, 2.7), (2, 5, 10, 1.5), (2, 8, 19, 2.4), (1, 5, 13, 1.5), (2, 2, 1, 0.6), (2, 2.5, 3, 0.75),
     # Densities 0.6 to 1.5, typed as stops of four digits: a hair less than nine steps.
     (1.9932, 4.9828, 10, 1.5)],
)  # fmt: skip
def test_the_ring_of_a_variable_nd_comes_to_its_last_mark(
    least: float, most: float, marks: int, last: float
) -> None:
    """Thirds of a stop are counted by hand: eight stops are 24 of them, so 25 marks."""
    found = ring_marks(least, most)
    assert len(found) == marks
    assert found[-1] == (pytest.approx(last, abs=0.005), 1.0)
    if marks > 1:
        assert found[0] == (pytest.approx(least * 0.30103, abs=1e-4), 0.0)
        assert [turned for _, turned in found] == sorted(turned for _, turned in found)
    piece = replace(TURNING, stops=least, most_stops=most, thread_mm=77)
    densities = [stack.density for stack in rack((piece,), Front(77)).stacks if stack.pieces]
    assert max(densities) == pytest.approx(last, abs=0.006)

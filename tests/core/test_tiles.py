"""Which tile a finding colours: what a person would look at to see it. Common practice, no source."""

import pytest

from fotonomy.core import tiles
from fotonomy.core.findings.finding import Family, Harm
from fotonomy.core.kinds import KINDS
from fotonomy.core.tiles import Tile


@pytest.mark.parametrize(
    ("finding", "among", "tile"),
    [
        ("exposure.under", tiles.VIDEO, Tile.LIGHT), ("nd.infrared", tiles.VIDEO, Tile.LIGHT),
        ("flicker.mains", tiles.VIDEO, Tile.MOTION), ("motion.strobing", tiles.VIDEO, Tile.MOTION),
        ("shutter.longer_than_frame", tiles.VIDEO, Tile.MOTION),
        ("support.handheld", tiles.VIDEO, Tile.MOTION),
        ("level.key_clips", tiles.VIDEO, Tile.LEVEL), ("profile.body_lacks", tiles.VIDEO, Tile.LEVEL),
        ("focus.depth_short", tiles.VIDEO, Tile.FOCUS), ("lens.wrong_mount", tiles.VIDEO, Tile.FOCUS),
        ("noise.beyond_limit", tiles.VIDEO, Tile.NOISE), ("iso.below_base", tiles.VIDEO, Tile.NOISE),
        ("white.mixed", tiles.VIDEO, Tile.WHITE), ("clip.card_full", tiles.VIDEO, Tile.CLIP),
        ("run.power_short", tiles.INTERVAL, Tile.CYCLE),
        ("run.cycle_too_long", tiles.INTERVAL, Tile.CYCLE),
        ("run.light_leaves", tiles.INTERVAL, Tile.RAMP),
        ("run.stars_trail", tiles.INTERVAL, Tile.RAMP),
        ("run.short_of_event", tiles.INTERVAL, Tile.RUN),
        ("burst.buffer_full", tiles.BURST, Tile.BURST),
        ("trail.holes", tiles.LONG_EXPOSURE, Tile.TRAIL),
        # A kind that has not the first tile has the next; what belongs to none is about the light.
        ("shutter.bulb_too_long", tiles.LONG_EXPOSURE, Tile.TRAIL),
        ("shutter.bulb_too_long", tiles.INTERVAL, Tile.CYCLE),
        ("clip.room_short", tiles.INTERVAL, Tile.RUN),
        ("weather.cold", tiles.VIDEO, Tile.CLIP), ("weather.cold", tiles.INTERVAL, Tile.CYCLE),
        ("weather.dew", tiles.INTERVAL, Tile.RUN), ("weather.dew", tiles.VIDEO, Tile.LIGHT),
        ("focal_mm.outside_limits", tiles.VIDEO, Tile.FOCUS),
        ("nd.gear_lacks", tiles.VIDEO, Tile.LIGHT), ("iso.gear_lacks", tiles.VIDEO, Tile.NOISE),
        ("white.mixed", tiles.BURST[:2], Tile.LIGHT),
    ],
)  # fmt: skip
def test_a_finding_colours_the_tile_that_shows_it(
    finding: str, among: tuple[Tile, ...], tile: Tile
) -> None:
    assert Family.known[finding].tile_among(among) is tile


@pytest.mark.parametrize(
    ("finding", "harm"),
    [("clip.card_full", Harm.NOTHING_RECORDED), ("shutter.gear_lacks", Harm.NOTHING_RECORDED),
     ("run.one_frame", Harm.NOTHING_RECORDED), ("exposure.under", Harm.PICTURE_LOST),
     ("level.key_clips", Harm.PICTURE_LOST), ("iris.gear_lacks", Harm.PICTURE_LOST),
     ("flicker.mains", Harm.MOVES_WRONGLY), ("run.choppy", Harm.MOVES_WRONGLY),
     ("weather.rain", Harm.WEATHER), ("noise.beyond_limit", Harm.PRICE),
     ("nd.infrared", Harm.PRICE), ("iris.outside_limits", Harm.TASTE)],
)  # fmt: skip
def test_a_finding_says_what_it_harms(finding: str, harm: Harm) -> None:
    """Common practice, no source."""
    assert Family.known[finding].harm is harm


def test_only_what_knows_its_own_ways_keeps_the_planner_out() -> None:
    own = {name for name, family in Family.known.items() if family.own_ways}
    assert own == {
        "frame_rate.gear_lacks", "shutter.gear_lacks", "iris.gear_lacks", "iso.gear_lacks",
        "nd.gear_lacks", "run.interval_rounded", "run.count_beyond", "burst.moment_missed",
        "burst.buffer_full",
    }  # fmt: skip


def test_a_family_has_an_id_of_its_own_and_a_tile() -> None:
    """Told where the module is loaded, not where the finding is made."""
    with pytest.raises(ValueError, match=r"clip\.card_full"):
        Family("clip.card_full", Harm.TASTE, Tile.CLIP)
    with pytest.raises(ValueError, match=r"clip\.unheard_of"):
        Family("clip.unheard_of", Harm.TASTE)
    assert "clip.unheard_of" not in Family.known


def test_every_kind_has_each_tile_once_and_the_one_it_lives_from() -> None:
    for rules in KINDS.values():
        assert len(set(rules.tiles)) == len(rules.tiles) <= 10
        assert rules.opened is None or rules.opened is rules.tiles[0]
        assert {Tile.LIGHT, Tile.MOTION, Tile.LEVEL, Tile.PICTURE} <= set(rules.tiles)

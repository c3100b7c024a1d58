"""Which tile a finding colours: what a person would look at to see it. Common practice, no source."""

import pytest

from fotonomy.core import tiles
from fotonomy.core.kinds import KINDS
from fotonomy.core.tiles import Tile, tile_of


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
    ],
)  # fmt: skip
def test_a_finding_colours_the_tile_that_shows_it(
    finding: str, among: tuple[Tile, ...], tile: Tile
) -> None:
    assert tile_of(finding, among) is tile


def test_every_kind_has_each_tile_once_and_the_one_it_lives_from() -> None:
    for rules in KINDS.values():
        assert len(set(rules.tiles)) == len(rules.tiles) <= 10
        assert rules.opened is None or rules.opened is rules.tiles[0]
        assert {Tile.LIGHT, Tile.MOTION, Tile.LEVEL, Tile.PICTURE} <= set(rules.tiles)

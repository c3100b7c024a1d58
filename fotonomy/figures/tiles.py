"""The drawing of every tile, the same function for any size."""

from collections.abc import Callable

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.setup import Analysis, run_of
from fotonomy.core.stills.burst import Burst
from fotonomy.core.stills.long_exposure import LongExposure
from fotonomy.core.tiles import Tile
from fotonomy.figures.lanes.buffer import buffer_figure
from fotonomy.figures.lanes.clip import clip_figure
from fotonomy.figures.lanes.cycle import cycle_figure, stores_of
from fotonomy.figures.lanes.focus import focus_figure
from fotonomy.figures.lanes.level import level_figure
from fotonomy.figures.lanes.light_budget import budget_figure
from fotonomy.figures.lanes.long_exposure import long_exposure_figure
from fotonomy.figures.lanes.motion import motion_figure
from fotonomy.figures.lanes.noise import noise_figure
from fotonomy.figures.lanes.ramp import ramp_figure
from fotonomy.figures.lanes.white_balance import white_figure
from fotonomy.figures.svg import Size


def _light(a: Analysis, size: Size) -> str:
    return budget_figure(a.budget, size)


def _ramp(a: Analysis, size: Size) -> str:
    run = run_of(a, IntervalRun)
    return ramp_figure(run.ramp, run.floating, size)


def _cycle(a: Analysis, size: Size) -> str:
    run = run_of(a, IntervalRun)
    return cycle_figure(run.cycle, size, stores_of(run))


def _level(a: Analysis, size: Size) -> str:
    noise = a.noise
    return level_figure(a.setup, a.level, size, noise.floor_stops, noise.floor_between)


_FIGURES: dict[Tile, Callable[[Analysis, Size], str]] = {
    Tile.RUN: clip_figure,
    Tile.CYCLE: _cycle,
    Tile.BURST: lambda a, size: buffer_figure(run_of(a, Burst), size),
    Tile.TRAIL: lambda a, size: long_exposure_figure(run_of(a, LongExposure), size),
    Tile.LIGHT: _light,
    Tile.RAMP: _ramp,
    Tile.MOTION: motion_figure,
    Tile.LEVEL: _level,
    Tile.FOCUS: focus_figure,
    Tile.NOISE: lambda a, size: noise_figure(a.setup, a.noise, size),
    Tile.WHITE: lambda a, size: white_figure(a.white, size),
    Tile.CLIP: clip_figure,
}


def tile_figure(tile: Tile, analysis: Analysis, size: Size) -> str:
    """The drawing of a tile. LookupError for the picture, which is no drawing of lines."""
    return _FIGURES[tile](analysis, size)

"""Setups of an exercise beside each other: their drawings and pictures."""

from dataclasses import dataclass

from django.utils.safestring import SafeString, mark_safe

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.analysis.traced_analysis import named_analysis
from fotonomy.core.drill.exercise import Exercise
from fotonomy.core.kinds import rules_of
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile
from fotonomy.core.traced_numbers import Names
from fotonomy.figures.lanes.light_budget import balance_words
from fotonomy.figures.svg import Size
from fotonomy.figures.tiles import tile_figure

# Which of two frames a picture is of.
SIDE = "side"
# How high a drawing is: one that needs less leaves no gap under it.
_HIGH = {Tile.MOTION: 108, Tile.CLIP: 110}
_USUAL_HIGH = 150


@dataclass(frozen=True, slots=True)
class Drawn:
    """A drawing with its name, and where it is said how its numbers came about."""

    label: str
    figure: SafeString
    numbers: str = ""


@dataclass(frozen=True, slots=True)
class Side:
    """One setup beside another: its name, its balance in words, its drawings, its picture."""

    label: str
    balance: str
    drawn: tuple[Drawn, ...]
    picture: str
    shows: str = "the monitor's picture"


def names_of(address: str) -> Names:
    """Where the workings of an exercise's numbers are."""
    return Names(f"{address}working/", "/")


def size_of(tile: Tile, phone: bool) -> Size:
    """How large a tile is drawn here."""
    high = _HIGH.get(tile, _USUAL_HIGH)
    return Size(350, high + 16, 14) if phone else Size(372, high)


def drawings(
    analysis: Analysis, tiles: tuple[Tile, ...], phone: bool, names: Names | None
) -> tuple[Drawn, ...]:
    """The drawings of some tiles, of those the setup's kind has."""
    own = rules_of(analysis.setup).tiles
    named = analysis if names is None else named_analysis(analysis, names)
    found = []
    for tile in dict.fromkeys(tiles):
        if tile not in own or tile is Tile.PICTURE:
            continue
        if tile is Tile.RAMP and not analysis.setup.run.light_curve:
            continue
        # Markup from our own figures, which escape every text a person typed.
        figure = mark_safe(tile_figure(tile, named, size_of(tile, phone)))
        found.append(Drawn(tile.label, figure, names.many(tile.value) if names else ""))
    return tuple(found)


def side_of(
    label: str,
    setup: Setup,
    exercise: Exercise,
    phone: bool,
    names: Names | None,
    picture: str = "",
    balance: bool = True,
) -> Side:
    analysis = analyse(setup)
    words = balance_words(analysis.budget) if balance else ""
    tiles = exercise.tiles or (Tile.LIGHT,)
    return Side(label, words, drawings(analysis, tiles, phone, names), picture)


def pictured(exercise: Exercise, address: str) -> tuple[Side, ...]:
    """The frames of both setups."""
    return tuple(
        Side(label, "", (), f"{address}picture.jpg?{SIDE}={number}", "a cut of the frame")
        for number, label in enumerate(("Left", "Right"))
    )

"""Where the parts of the bench lie on a screen, so that each drawing is made for its place.

Drawings are never scaled: the page is told how large they may be, and the style sheets leave
them that room. The numbers here and in bench.css and tiles.css are the same.
"""

import re
from dataclasses import dataclass
from math import ceil

from fotonomy.core.tiles import Tile
from fotonomy.figures.svg import PHONE_PX, Size
from fotonomy.web.screen_widths import MEDIUM_TO, PAGE_EDGE, PHONE_EDGE, PHONE_TO

USUAL = (1280, 800)
LEAST, MOST = (300, 400), (3000, 2400)

SIDE, EDGE, GAP, COLUMN = 204, 18, 24, 330
# Heights: what stands above the tiles, what below, and what a tile has beside its drawing.
ABOVE, BELOW, AROUND = 156, 80, 59
LOWEST, TALLEST = 64, 380
GLANCE, PHONE_GLANCE = Size(116, 42), Size(92, 40, PHONE_PX)
# These span two columns where tiles stand beside each other and one would stay empty.
WIDE_TILES = (Tile.PICTURE, Tile.LEVEL)
_COOKIE = re.compile(r"(\d{2,5})x(\d{2,5})")


@dataclass(frozen=True, slots=True)
class Screen:
    """The window of a page in px."""

    width: int
    height: int

    @property
    def phone(self) -> bool:
        """True for a window as narrow as a phone's."""
        return self.width <= PHONE_TO

    @property
    def medium(self) -> bool:
        """True for one without room for the running order beside the bench."""
        return PHONE_TO < self.width <= MEDIUM_TO

    @property
    def content(self) -> int:
        """How wide what stands beside the running order is, in px."""
        side = 0 if self.phone or self.medium else SIDE
        return self.within(EDGE) - side

    def within(self, edge: int = PAGE_EDGE) -> int:
        """How wide what stands between a page's margins is, in px; a phone has its own."""
        return self.width - 2 * (PHONE_EDGE if self.phone else edge)


def screen_of(text: str) -> Screen:
    """The window as a page said it, "1280x800"; the usual desk where it said nothing sensible."""
    found = _COOKIE.fullmatch(text)
    width, height = map(int, found.groups()) if found else USUAL
    return Screen(
        max(LEAST[0], min(MOST[0], width)), max(LEAST[1], min(MOST[1], height))
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Layout:
    """Sizes of drawings: in a tile, in one that spans two, in a row, and on the stage.

    ``spans`` are the tiles that take two columns.
    """

    tile: Size
    wide: Size
    glance: Size
    stage: Size
    spans: frozenset[Tile]

    def size_of(self, tile: Tile, opened: Tile | None, phone: bool) -> Size:
        """What a tile's drawing is made for."""
        if tile is opened:
            return self.stage
        if opened is not None or phone:
            return self.glance
        return self.wide if tile in self.spans else self.tile


def layout_of(screen: Screen, tiles: tuple[Tile, ...]) -> Layout:
    """The sizes on a screen for a kind with these tiles."""
    content = screen.content
    if screen.phone:
        whole = Size(content, 0, PHONE_PX)
        return Layout(whole, whole, PHONE_GLANCE, whole, frozenset())
    columns = 2 if screen.medium else 3
    across = (content - GAP * (columns - 1)) // columns
    rows = ceil(len(tiles) / columns)
    spare = rows * columns - len(tiles)
    spans = [tile for tile in WIDE_TILES if tile in tiles][:spare]
    room = (screen.height - ABOVE - BELOW) // rows - AROUND
    tall = max(LOWEST, min(TALLEST, room))
    stage = content if screen.medium else content - COLUMN - GAP
    wide = Size(2 * across + GAP, tall)
    return Layout(Size(across, tall), wide, GLANCE, Size(min(stage, 1100)), frozenset(spans))

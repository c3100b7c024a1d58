"""A thin hand on SVG: elements by name, numbers rounded, no style a strict policy refuses."""

from dataclasses import dataclass
from functools import lru_cache
from xml.sax.saxutils import escape, quoteattr

from fotonomy.core.traced_numbers import plain
from fotonomy.figures import glyph_widths

# The two cuts of figures that stand on pages of their own, in px, and the width under which
# such a figure lays itself out narrow.
WIDE, NARROW = 780.0, 350.0
NARROW_BELOW = 500.0
CUTS = {"wide": WIDE, "thin": NARROW}

# Type sizes in px: nothing is written smaller, on a phone larger.
DESK_PX, PHONE_PX = 12, 14
# Lower than this a drawing is a glance, which has no words.
GLANCE_BELOW = 60.0
# What is set in the monospace, and what in bold.
_MONO = frozenset({"tick", "figures", "mono"})
_BOLD = frozenset({"in-bar", "by-bar", "verdict", "by-tone", "target-word"})
_ABOVE, _BELOW = 0.8, 0.24


@dataclass(frozen=True, slots=True)
class Size:
    """What a figure is drawn for: px across and down, and the size of its type in px.

    A height of 0 is as tall as the figure needs.
    """

    width: float
    height: float = 0.0
    text_px: int = DESK_PX

    @property
    def glance(self) -> bool:
        """True where there is no room for words: shapes alone."""
        return 0 < self.height < GLANCE_BELOW

    @property
    def tile(self) -> bool:
        """True where the height is given, so that the figure says only what matters most."""
        return self.height > 0

    @property
    def line(self) -> float:
        """From one line of type to the next, in px."""
        return round(self.text_px * 1.3)


def text_width(text: str, kinds: str = "", px: float = DESK_PX) -> float:
    """How wide a label comes out, in px; ``kinds`` are its classes. Marks in it have no width."""
    return _text_width(plain(text), kinds, px)


@lru_cache(maxsize=8192)
def _text_width(text: str, kinds: str, px: float) -> float:
    classes = set(kinds.split())
    if classes & _MONO:
        return len(text) * glyph_widths.MONO * px / 1000
    table = glyph_widths.BOLD if classes & _BOLD else glyph_widths.PLAIN
    return sum(table.get(letter, 700) for letter in text) * px / 1000


def shortened(text: str, room: float, kinds: str = "", px: float = DESK_PX) -> str:
    """A text cut to ``room`` px, with an ellipsis where something went."""
    if text_width(text, kinds, px) <= room:
        return text
    cut = plain(text)
    while len(cut) > 3 and text_width(f"{cut}…", kinds, px) > room:
        cut = cut[:-1]
    return f"{cut.rstrip()}…"


@dataclass(frozen=True, slots=True)
class Scale:
    """A straight map from values to px; ``to`` may run backwards."""

    low: float
    high: float
    start: float
    end: float

    def __call__(self, value: float) -> float:
        share = (value - self.low) / (self.high - self.low)
        return self.start + share * (self.end - self.start)


@dataclass(frozen=True, slots=True)
class Box:
    """Where a label lies, in px."""

    left: float
    top: float
    right: float
    foot: float

    def meets(self, other: "Box") -> bool:
        """True if the two overlap."""
        return (
            self.left < other.right and other.left < self.right
            and self.top < other.foot and other.top < self.foot
        )  # fmt: skip


def is_narrow(width: float) -> bool:
    """True for a width in px at which a figure leaves out, or stacks, what stands side by side."""
    return width < NARROW_BELOW


@dataclass(frozen=True, slots=True)
class Part:
    """What a drawing holds, to be pasted into another: its markup and where its labels lie."""

    markup: str
    taken: tuple[Box, ...]


class Drawing:
    """One SVG picture in px, with a title and a description for those who do not see it.

    Markup is written as it is drawn: every figure is drawn at every change, and a tree
    of elements would take several times as long. Every text is escaped here; classes
    and coordinates are the figures' own.
    """

    def __init__(
        self, width: float, height: float, title: str, description: str, text_px: int = DESK_PX,
        *, holds_links: bool = False,
    ) -> None:  # fmt: skip
        self.width, self.height, self.text_px = width, height, text_px
        self.narrow = is_narrow(width)
        self.taken: list[Box] = []
        said = quoteattr(f"{title}. {description}")
        large = ' class="phone"' if text_px > DESK_PX else ""
        wide, tall = _number(width), _number(height)
        # What holds links is no image: they would be hidden from those who hear the page.
        role = "group" if holds_links else "img"
        self.parts = [
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide}" height="{tall}" '
            f'viewBox="0 0 {wide} {tall}"{large} role="{role}" aria-label={said}>'
        ]

    def rect(
        self, x: float, y: float, width: float, height: float, class_: str, more: str = ""
    ) -> None:
        """A rectangle; a negative width runs to the left. ``more`` is ready markup."""
        if width < 0:
            x, width = x + width, -width
        self.parts.append(
            f'<rect x="{x:.1f}" y="{y:.1f}" width="{width:.1f}" height="{height:.1f}" '
            f'class="{class_}"{more}></rect>'
        )

    def boxes(self, boxes: list[tuple[float, float, float, float]], class_: str) -> None:
        """Many rectangles (left, top, right, foot) as one shape: no seam shows where they touch."""
        if boxes:
            steps = "".join(
                f"M{left:.2f} {top:.1f}H{right:.2f}V{foot:.1f}H{left:.2f}Z"
                for left, top, right, foot in boxes
            )
            self.parts.append(f'<path d="{steps}" class="{class_}"></path>')

    def line(self, x1: float, y1: float, x2: float, y2: float, class_: str) -> None:
        """A straight line."""
        self.parts.append(
            f'<line x1="{x1:.1f}" y1="{y1:.1f}" x2="{x2:.1f}" y2="{y2:.1f}" '
            f'class="{class_}"></line>'
        )

    def wide(self, text: str, class_: str = "") -> float:
        """How wide a label comes out, in px."""
        return text_width(text, class_, self.text_px)

    def box_of(self, x: float, y: float, text: str, class_: str = "label") -> Box:
        """Where a label on its baseline lies; classes ``middle`` and ``end`` anchor it there."""
        wide, kinds = self.wide(text, class_), class_.split()
        left = x - wide if "end" in kinds else x - wide / 2 if "middle" in kinds else x
        return Box(left, y - _ABOVE * self.text_px, left + wide, y + _BELOW * self.text_px)

    def label(self, x: float, y: float, text: str, class_: str = "label") -> None:
        """Text on its baseline; classes ``middle`` and ``end`` anchor it there."""
        self.taken.append(self.box_of(x, y, text, class_))
        self.parts.append(f'<text x="{x:.1f}" y="{y:.1f}" class="{class_}">{escape(text)}</text>')

    def has_room(self, box: Box) -> bool:
        """True where nothing is written and the drawing does not end."""
        inside = box.left >= -0.5 and box.right <= self.width + 0.5
        inside = inside and box.top >= -1 and box.foot <= self.height + 1
        return inside and not any(box.meets(other) for other in self.taken)

    def offer(self, x: float, y: float, text: str, class_: str = "label") -> bool:
        """Write a label where it has room; False, and nothing, where it has none."""
        if not text or not self.has_room(self.box_of(x, y, text, class_)):
            return False
        self.label(x, y, text, class_)
        return True

    def offer_within(
        self, x: float, y: float, text: str, class_: str, low: float, high: float
    ) -> bool:
        """A label about ``x``, pushed inwards to stay between ``low`` and ``high``, if it fits."""
        half = self.wide(text, class_) / 2
        if 2 * half > high - low:
            return False
        return self.offer(min(max(x, low + half), high - half), y, text, f"{class_} middle")

    def first(self, ways: tuple[tuple[float, float, str, str], ...]) -> bool:
        """The first of several labels (x, y, text, class) that has room."""
        return any(self.offer(*way) for way in ways)

    def keep_clear(self, left: float, top: float, right: float, foot: float) -> None:
        """No label is offered room here."""
        self.taken.append(Box(left, top, right, foot))

    def circle(self, x: float, y: float, radius: float, class_: str) -> None:
        """A disc about a point."""
        self.parts.append(
            f'<circle cx="{x:.1f}" cy="{y:.1f}" r="{radius:.1f}" class="{class_}"></circle>'
        )

    def verdict_mark(self, x: float, y: float, radius: float, kind: str) -> None:
        """The mark of a verdict, one shape one meaning everywhere: a disc for good, a triangle for
        warn, a cross for bad, a ring for unsaid.
        """
        if kind == "warn":
            tall = 0.9 * radius
            self.area([(x, y - radius), (x - radius, y + tall), (x + radius, y + tall)],
                      "mark warn")  # fmt: skip
        elif kind == "bad":
            for side in (1, -1):
                self.line(x - radius, y - side * radius, x + radius, y + side * radius, "cross bad")
        else:
            self.circle(x, y, radius, f"mark {kind}")

    def path(self, points: list[tuple[float, float]], class_: str) -> None:
        """An open line through points."""
        steps = "L".join(f"{_number(x)} {_number(y)}" for x, y in points)
        self.parts.append(f'<path d="M{steps}" class="{class_}"></path>')

    def area(self, points: list[tuple[float, float]], class_: str) -> None:
        """A closed shape."""
        shape = " ".join(f"{_number(x)},{_number(y)}" for x, y in points)
        self.parts.append(f'<polygon points="{shape}" class="{class_}"></polygon>')

    def inside(self) -> Part:
        """Everything drawn so far without its frame, to be pasted into another drawing."""
        return Part("".join(self.parts[1:]), tuple(self.taken))

    def paste(self, part: Part) -> None:
        """Add what another drawing holds ``inside``: parts that stay the same are kept so."""
        self.parts.append(part.markup)
        self.taken.extend(part.taken)

    def open_group(self, class_: str = "") -> None:
        """Start a group; what is drawn next belongs to it."""
        self.parts.append(f'<g class="{class_}">' if class_ else "<g>")

    def close_group(self) -> None:
        """End the group."""
        self.parts.append("</g>")

    def open_link(self, address: str, said: str, class_: str, more: str = "") -> None:
        """Start a link, with words for those who do not see it; ``more`` is ready markup."""
        self.parts.append(
            f'<a href={quoteattr(address)} aria-label={quoteattr(said)} class="{class_}"{more}>'
        )

    def close_link(self) -> None:
        """End the link."""
        self.parts.append("</a>")

    def move(self, values: str, seconds: float) -> None:
        """Move the open group in steps: "x y;x y;…", each for an equal share of ``seconds``."""
        self.parts.append(
            f'<animateTransform attributeName="transform" type="translate" calcMode="discrete" '
            f'values="{values}" dur="{seconds:.4f}s" repeatCount="indefinite"></animateTransform>'
        )

    def render(self) -> str:
        """The picture as markup."""
        return "".join(self.parts) + "</svg>"


def _number(value: float) -> str:
    text = f"{value:.1f}"
    return text[:-2] if text.endswith(".0") else text


def label_within(
    drawing: Drawing, x: float, y: float, text: str, class_: str, low: float, high: float
) -> None:
    """Text about ``x``, cut and pushed inwards so that it stays between ``low`` and ``high`` px."""
    text = shortened(text, high - low, class_, drawing.text_px)
    half = drawing.wide(text, class_) / 2
    drawing.label(min(max(x, low + half), high - half), y, text, f"{class_} middle")

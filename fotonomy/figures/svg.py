"""A thin hand on SVG: elements by name, numbers rounded, no style a strict policy refuses."""

from dataclasses import dataclass
from xml.sax.saxutils import escape, quoteattr

# Average advance of the two faces at 12 px, in px: enough to tell whether a label fits.
SANS_PX, MONO_PX = 6.3, 7.3

# The two cuts of every figure, in px, and the width under which a figure lays itself out narrow.
WIDE, NARROW = 780.0, 350.0
NARROW_BELOW = 500.0
CUTS = {"wide": WIDE, "thin": NARROW}


def text_width(text: str, mono: bool = False) -> float:
    """About how wide a label comes out, in px at 12 px."""
    return len(text) * (MONO_PX if mono else SANS_PX)


def shortened(text: str, room: float, mono: bool = False) -> str:
    """A text cut to about ``room`` px, with an ellipsis where something went."""
    most = max(4, int(room / (MONO_PX if mono else SANS_PX)))
    return text if len(text) <= most else f"{text[: most - 1]}…"


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


class Drawing:
    """One SVG picture in px, with a title and a description for those who do not see it.

    Markup is written as it is drawn: every figure is drawn at every change, and a tree
    of elements would take several times as long. Every text is escaped here; classes
    and coordinates are the figures' own.
    """

    def __init__(self, width: float, height: float, title: str, description: str) -> None:
        self.width, self.height = width, height
        self.narrow = is_narrow(width)
        said = quoteattr(f"{title}. {description}")
        self.parts = [
            f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {_number(width)} '
            f'{_number(height)}" role="img" aria-label={said}>'
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

    def line(self, x1: float, y1: float, x2: float, y2: float, class_: str) -> None:
        """A straight line."""
        self.parts.append(
            f'<line x1="{x1:.1f}" y1="{y1:.1f}" x2="{x2:.1f}" y2="{y2:.1f}" '
            f'class="{class_}"></line>'
        )

    def label(self, x: float, y: float, text: str, class_: str = "label") -> None:
        """Text on its baseline; classes ``middle`` and ``end`` anchor it there."""
        self.parts.append(f'<text x="{x:.1f}" y="{y:.1f}" class="{class_}">{escape(text)}</text>')

    def circle(self, x: float, y: float, radius: float, class_: str) -> None:
        """A disc about a point."""
        self.parts.append(
            f'<circle cx="{x:.1f}" cy="{y:.1f}" r="{radius:.1f}" class="{class_}"></circle>'
        )

    def path(self, points: list[tuple[float, float]], class_: str) -> None:
        """An open line through points."""
        steps = "L".join(f"{_number(x)} {_number(y)}" for x, y in points)
        self.parts.append(f'<path d="M{steps}" class="{class_}"></path>')

    def area(self, points: list[tuple[float, float]], class_: str) -> None:
        """A closed shape."""
        shape = " ".join(f"{_number(x)},{_number(y)}" for x, y in points)
        self.parts.append(f'<polygon points="{shape}" class="{class_}"></polygon>')

    def inside(self) -> str:
        """Everything drawn so far without its frame, to be pasted into another drawing."""
        return "".join(self.parts[1:])

    def paste(self, markup: str) -> None:
        """Add what another drawing holds ``inside``: parts that stay the same are kept so."""
        self.parts.append(markup)

    def open_group(self, class_: str = "") -> None:
        """Start a group; what is drawn next belongs to it."""
        self.parts.append(f'<g class="{class_}">' if class_ else "<g>")

    def close_group(self) -> None:
        """End the group."""
        self.parts.append("</g>")

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
    drawing: Drawing, x: float, y: float, text: str, class_: str, low: float, high: float,
    mono: bool = False,
) -> None:  # fmt: skip
    """Text about ``x``, pushed inwards so that it stays between ``low`` and ``high`` px."""
    text = shortened(text, high - low)
    half = text_width(text, mono) / 2
    if x - half < low:
        drawing.label(low, y, text, class_)
    elif x + half > high:
        drawing.label(high, y, text, f"{class_} end")
    else:
        drawing.label(x, y, text, f"{class_} middle")

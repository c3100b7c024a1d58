"""A thin hand on SVG: elements by name, numbers rounded, no style a strict policy refuses."""

from dataclasses import dataclass
from typing import Any
from xml.etree import ElementTree as ET

# Average advance of the two faces at 12 px, in px: enough to tell whether a label fits.
SANS_PX, MONO_PX = 6.3, 7.3


def text_width(text: str, mono: bool = False) -> float:
    """About how wide a label comes out, in px at 12 px."""
    return len(text) * (MONO_PX if mono else SANS_PX)


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


class Drawing:
    """One SVG picture in px, with a title and a description for those who do not see it."""

    def __init__(self, width: float, height: float, title: str, description: str) -> None:
        self.width, self.height = width, height
        self.root = ET.Element(
            "svg",
            {
                "viewBox": f"0 0 {_number(width)} {_number(height)}",
                "role": "img",
                "aria-label": f"{title}. {description}",
            },
        )

    def add(self, tag: str, text: str | None = None, **attributes: Any) -> ET.Element:
        """Append an element; ``class_`` and underscores become what SVG calls them."""
        named = {
            key.rstrip("_").replace("_", "-"): _plain(value)
            for key, value in attributes.items()
            if value is not None
        }
        element = ET.SubElement(self.root, tag, named)
        element.text = text
        return element

    def rect(
        self, x: float, y: float, width: float, height: float, class_: str, **more: Any
    ) -> None:
        """A rectangle; a negative width runs to the left."""
        if width < 0:
            x, width = x + width, -width
        self.add("rect", x=x, y=y, width=width, height=height, class_=class_, **more)

    def line(self, x1: float, y1: float, x2: float, y2: float, class_: str) -> None:
        """A straight line."""
        self.add("line", x1=x1, y1=y1, x2=x2, y2=y2, class_=class_)

    def label(self, x: float, y: float, text: str, class_: str = "label") -> None:
        """Text on its baseline; classes ``middle`` and ``end`` anchor it there."""
        self.add("text", text, x=x, y=y, class_=class_)

    def path(self, points: list[tuple[float, float]], class_: str) -> None:
        """An open line through points."""
        steps = "L".join(f"{_number(x)} {_number(y)}" for x, y in points)
        self.add("path", d=f"M{steps}", class_=class_)

    def area(self, points: list[tuple[float, float]], class_: str) -> None:
        """A closed shape."""
        shape = " ".join(f"{_number(x)},{_number(y)}" for x, y in points)
        self.add("polygon", points=shape, class_=class_)

    def render(self) -> str:
        """The picture as markup."""
        return ET.tostring(self.root, encoding="unicode")


def _number(value: float) -> str:
    text = f"{value:.1f}"
    return text[:-2] if text.endswith(".0") else text


def _plain(value: object) -> str:
    return _number(value) if isinstance(value, int | float) else str(value)


WIDE, NARROW = 780.0, 350.0

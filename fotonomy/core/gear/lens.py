"""Lenses, extension tubes, and the light that glass loses."""

from dataclasses import dataclass
from math import log2
from typing import Annotated

from fotonomy.core.errors import RuleError
from fotonomy.core.ranges import NAME, Sized, Within, check_bounds


@dataclass(frozen=True, slots=True, kw_only=True)
class Tube:
    """An extension tube between body and lens; tubes stack."""

    name: Annotated[str, NAME]
    length_mm: Annotated[float, Within(0.1, 1000, "mm")]

    def __post_init__(self) -> None:
        check_bounds(self)


@dataclass(frozen=True, slots=True, kw_only=True)
class Lens:
    """A lens: focal range in mm, iris range, and the light its glass loses in stops.

    ``widest_long_f`` is the widest iris at the long end where it differs.
    ``close_focus_m`` None means unknown, and nothing is refused; ``greatest_magnification``
    is taken from it where not given. ``squeeze`` over 1 is anamorphic. ``mount`` as at the body.
    """

    name: Annotated[str, NAME]
    focal_shortest_mm: Annotated[float, Within(1, 3000, "mm")]
    focal_longest_mm: Annotated[float, Within(1, 3000, "mm")]
    widest_f: Annotated[float, Within(0.5, 128)]
    smallest_f: Annotated[float, Within(0.5, 128)]
    widest_long_f: Annotated[float | None, Within(0.5, 128)] = None
    transmission_stops: Annotated[float, Within(0, 5, "stops")] = 0.0
    thread_mm: Annotated[float | None, Within(1, 500, "mm")] = None
    close_focus_m: Annotated[float | None, Within(0.001, 1000, "m")] = None
    greatest_magnification: Annotated[float | None, Within(0.001, 20)] = None
    stabiliser_stops: Annotated[float, Within(0, 10, "stops")] = 0.0
    squeeze: Annotated[float, Within(0.5, 4)] = 1.0
    mount: Annotated[str, Sized(0, 40)] = ""

    def __post_init__(self) -> None:
        check_bounds(self)
        if self.focal_longest_mm < self.focal_shortest_mm:
            raise RuleError(
                "focal_longest_mm", "cannot be shorter than the short end", self.focal_longest_mm
            )
        if self.smallest_f < self.widest_f:
            raise RuleError(
                "smallest_f", "the closed end needs the larger f-number", self.smallest_f
            )
        if self.widest_long_f is not None and not (
            self.widest_f <= self.widest_long_f <= self.smallest_f
        ):
            raise RuleError(
                "widest_long_f", "has to lie between the widest and the closed iris",
                self.widest_long_f,
            )  # fmt: skip

    def widest_at(self, focal_mm: float) -> float:
        """Widest iris at a focal length: between the ends in proportion, in stops.

        A straight line over the logarithm of the focal length, to a tenth as cameras show
        it: common practice, no source.
        """
        short, long = self.focal_shortest_mm, self.focal_longest_mm
        if self.widest_long_f is None or long <= short:
            return self.widest_f
        share = min(1.0, max(0.0, log2(focal_mm / short) / log2(long / short)))
        return round(float(self.widest_f * (self.widest_long_f / self.widest_f) ** share), 1)

    def t_number(self, f_number: float) -> float:
        """An f-number with what the glass swallows counted in: ``N * 2**(loss/2)``."""
        return float(f_number * 2 ** (self.transmission_stops / 2))

    def f_number(self, t_number: float) -> float:
        """The f-number of a T-number on this lens."""
        return float(t_number / 2 ** (self.transmission_stops / 2))


def loss_from_t_number(t_number: float, f_number: float) -> float:
    """Stops a lens loses in its glass: ``2*log2(T/N)``; RuleError if T is under the f-number."""
    if t_number < f_number * 0.995:
        raise RuleError(
            "transmission_stops", f"a T-number is no smaller than f/{f_number:g}", t_number
        )
    return max(0.0, 2 * log2(t_number / f_number))

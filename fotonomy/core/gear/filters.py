"""Glass in front of a lens, and what holds it there."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated

from fotonomy.core.errors import RuleError
from fotonomy.core.ranges import NAME, Within, check_bounds


class FilterKind(StrEnum):
    """What a piece of glass does."""

    ND = "nd"
    VARIABLE_ND = "variable_nd"
    POLARISER = "polariser"
    DIFFUSION = "diffusion"
    OTHER = "other"


class Mount(StrEnum):
    """Where a piece sits: on a thread, in a matte box, or clipped in behind the lens."""

    THREAD = "thread"
    SQUARE = "square"
    CLIP_ON = "clip_on"


@dataclass(frozen=True, slots=True, kw_only=True)
class StepRing:
    """A ring that carries filters of ``filter_mm`` on a lens thread of ``lens_mm``."""

    name: Annotated[str, NAME]
    lens_mm: Annotated[float, Within(1, 500, "mm")]
    filter_mm: Annotated[float, Within(1, 500, "mm")]

    def __post_init__(self) -> None:
        check_bounds(self)
        if self.filter_mm == self.lens_mm:
            raise RuleError("filter_mm", "a step ring joins two different threads", self.filter_mm)


@dataclass(frozen=True, slots=True, kw_only=True)
class MatteBox:
    """A holder for square glass, for threads up to ``largest_mm``; lenses without one fit too."""

    name: Annotated[str, NAME]
    largest_mm: Annotated[float, Within(1, 500, "mm")]

    def __post_init__(self) -> None:
        check_bounds(self)


Holder = StepRing | MatteBox


@dataclass(frozen=True, slots=True)
class Front:
    """What glass can be put on: a lens's thread, what holds more, and what cannot be.

    ``clips_in`` is false where the lens does not come off, ``carries_box`` where nothing carries
    a matte box: on a drone, on a phone.
    """

    thread_mm: float | None
    holders: tuple[Holder, ...] = ()
    clips_in: bool = True
    carries_box: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class Filter:
    """A filter: what it takes in stops; for a variable ND the range it turns through.

    ``thread_mm`` is None for glass that is not screwed on: square in a matte box, or
    clipped in between lens and sensor.
    """

    name: Annotated[str, NAME]
    kind: FilterKind
    stops: Annotated[float, Within(0, 27, "stops")]
    most_stops: Annotated[float | None, Within(0, 27, "stops")] = None
    thread_mm: Annotated[float | None, Within(1, 500, "mm")] = None
    mount: Mount = Mount.THREAD

    def __post_init__(self) -> None:
        check_bounds(self)

    @property
    def seat(self) -> Mount:
        """Where it sits; glass without a thread that is not clipped in is square."""
        if self.mount is Mount.THREAD and self.thread_mm is None:
            return Mount.SQUARE
        return self.mount

    def fits(self, front: Front) -> bool:
        """True if it can be put there with the rings and matte boxes at hand.

        Clip-in glass goes behind every lens that comes off; a lens without a thread takes square
        glass only.
        """
        match self.seat:
            case Mount.CLIP_ON:
                return front.clips_in
            case Mount.SQUARE:
                return front.carries_box and any(
                    isinstance(h, MatteBox) and (front.thread_mm or 0.0) <= h.largest_mm
                    for h in front.holders
                )
        if front.thread_mm is None:
            return False
        return self.thread_mm == front.thread_mm or any(
            isinstance(h, StepRing)
            and h.lens_mm == front.thread_mm
            and h.filter_mm == self.thread_mm
            for h in front.holders
        )


@dataclass(frozen=True, slots=True)
class Seating:
    """How a piece goes on one lens: what it sits on, or why it does not and what would help."""

    on: str
    problem: str = ""

    @property
    def fits(self) -> bool:
        """True if it can be put there."""
        return not self.problem


def seating(glass: Filter, front: Front) -> Seating:
    """How the piece goes on a front, with the rings and boxes at hand; the words for why not.

    Glass smaller than the lens's thread would stand in the corners of the picture: no ring is
    asked for. Common practice, no source.
    """
    if glass.fits(front):
        return Seating(_sits_on(glass, front))
    thread = front.thread_mm
    match glass.seat:
        case Mount.CLIP_ON:
            return Seating("", "this lens does not come off: nothing clips in behind it")
        case Mount.SQUARE:
            if not front.carries_box:
                return Seating("", "a matte box cannot be carried there")
            boxes = [h.largest_mm for h in front.holders if isinstance(h, MatteBox)]
            if not boxes:
                return Seating("", "square glass needs a matte box, and none is in the kit")
            return Seating("", f"the matte box goes on threads up to {max(boxes):g} mm only")
    if thread is None:
        return Seating("", "the lens has no thread: square glass in a matte box would go on")
    assert glass.thread_mm is not None
    if glass.thread_mm < thread:
        return Seating(
            "", f"{glass.thread_mm:g} mm glass is smaller than the lens's {thread:g} mm: "
            f"it would stand in the corners; get it in {thread:g} mm or larger",
        )  # fmt: skip
    return Seating(
        "", f"needs a step ring {thread:g} to {glass.thread_mm:g}, and none is in the kit"
    )


def _sits_on(glass: Filter, front: Front) -> str:
    match glass.seat:
        case Mount.CLIP_ON:
            return "clipped in behind the lens"
        case Mount.SQUARE:
            return next(
                h.name for h in front.holders
                if isinstance(h, MatteBox) and (front.thread_mm or 0.0) <= h.largest_mm
            )  # fmt: skip
    if glass.thread_mm == front.thread_mm:
        return "its own thread"
    joins = (front.thread_mm, glass.thread_mm)
    return next(
        h.name for h in front.holders
        if isinstance(h, StepRing) and (h.lens_mm, h.filter_mm) == joins
    )  # fmt: skip

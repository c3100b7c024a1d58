"""What takes teach: counts as drawings, and offers to move a limit with what that would change."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from fotonomy.core.notation import writing as n
from fotonomy.core.pictures.keeper_rate import ENOUGH, Z_95, Keepers
from fotonomy.core.spec.intent import Handheld
from fotonomy.core.takes.kit_suggestions import (
    Count,
    Offsets,
    Shot,
    by_hand,
    by_interval,
    by_iso,
    by_rate,
    offsets,
)
from fotonomy.figures.svg import Size
from fotonomy.figures.takes.kept import KeptRow, LightDot, kept_drawing, light_drawing
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.presenters.working import loose
from fotonomy.takes.kit_suggestions import (
    ceiling_offers,
    changed_by,
    method_counts,
    offered_method,
    shoots_of,
    shots_of,
)
from fotonomy.takes.metered_vs_estimate import LightRead, light_read
from fotonomy.takes.presenters.setup_takes import light_words

# A drawing has so many rows at most, those with the most takes.
MOST_ROWS = 14
# Bands of the sun's height, in degrees, and of cloud in eighths: by their upper ends.
_HEIGHTS = ((-6.0, "sun under −6°"), (0.0, "sun under the horizon"), (15.0, "sun under 15°"),
            (35.0, "sun 15° to 35°"), (91.0, "sun over 35°"))  # fmt: skip


@dataclass(frozen=True, slots=True)
class Drawn:
    """A group of counts: what is counted, in a sentence, and its drawing."""

    title: str
    hint: str
    drawing: str


@dataclass(frozen=True, slots=True)
class OfferView:
    """An offer: what would be moved, why, what that changes, and what the button sends."""

    sort: str
    key: str
    what: str
    why: str
    changes: str


@dataclass(frozen=True, slots=True)
class MethodLine:
    """A method of the hand-held limit with its count."""

    key: str
    name: str
    words: str
    present: bool


@dataclass(frozen=True, slots=True)
class TeachingView:
    """Everything the page takes."""

    takes: int
    shoots: int
    offers: tuple[OfferView, ...]
    methods: tuple[MethodLine, ...]
    groups: tuple[Drawn, ...]
    light: str
    light_lines: tuple[str, ...]
    enough: int = ENOUGH


def teaching_view(shoot: Shoot, size: Size) -> TeachingView:
    """What the takes of a person teach, as far as who asks may see them."""
    shoots = shoots_of(shoot)
    shots = shots_of(shoots)
    method = Handheld(shoot.handheld)
    groups = (
        _drawn("ISO, by body and profile", "Kept: nobody called it too noisy.", by_iso(shots),
               lambda key: f"{key[0]}, {key[1]}, ISO {key[2]}", size),
        _drawn("Held by hand, by lens",
               f"Stops slower or faster than the limit ({method.label}). Kept: neither shaken nor "
               "soft.", by_hand(shots, method), _hand_words, size),
        _drawn("Interval, by subject", "Kept: the take was good.", by_interval(shots),
               lambda key: f"{key[0]}, every {n.format_number(key[1], 1)} s", size),
        _drawn("Frame rate, by subject", "Kept: the take was good.", by_rate(shots),
               lambda key: f"{key[0]}, {n.format_frame_rate(key[1])} fps", size),
    )  # fmt: skip
    read = [one for each in shoots for one in light_read(each)]
    return TeachingView(
        len(shots), len(shoots), tuple(_offers(shoot, shots)) if shoot.actor.owns else (),
        tuple(
            MethodLine(one.method.value, one.method.label, _words(one.kept), one.method is method)
            for one in method_counts(shots)
        ),
        tuple(group for group in groups if group is not None),
        _light_drawing(read, size), tuple(map(_offset_words, _grouped(read))),
    )  # fmt: skip


def _hand_words(key: tuple[Any, ...]) -> str:
    lens, support, over = key
    if over == 0:
        how = "at the limit"
    else:
        many = "1 stop" if abs(over) == 1 else f"{abs(over)} stops"
        how = f"{many} {'slower' if over > 0 else 'faster'}"
    return f"{lens} by {support}, {how}"


def _words(kept: Keepers) -> str:
    """So many of so many, with what they speak for."""
    text = f"{kept.good} of {kept.count}"
    if not kept.count:
        return text
    return loose(text, "kept.low", good=kept.good, count=kept.count, z=Z_95)


def _share(kept: Keepers, high: bool = False) -> str:
    """An end of what a count speaks for, in percent."""
    end = kept.high if high else kept.low
    name = "kept.high" if high else "kept.low"
    return loose(f"{100 * end:.0f}", name, good=kept.good, count=kept.count, z=Z_95)


def _drawn(
    title: str, hint: str, counts: Iterable[Count], name: Any, size: Size
) -> Drawn | None:  # fmt: skip
    many = sorted(counts, key=lambda one: -one.kept.count)[:MOST_ROWS]
    if not many:
        return None
    shown = [one for one in counts if one in many]
    rows = tuple(
        KeptRow(name(one.key), one.kept.share, one.kept.low, one.kept.high, _words(one.kept),
                one.kept.enough) for one in shown
    )  # fmt: skip
    return Drawn(title, hint, kept_drawing(title, rows, size))


def _offers(shoot: Shoot, shots: list[Shot]) -> Iterable[OfferView]:
    for body, offer in ceiling_offers(shoot, shots):
        now, then = changed_by(body, offer.offered)
        side = "Raise" if offer.offered > offer.present else "Lower"
        yield OfferView(
            "ceiling", str(body.pk),
            f"{side} the ISO ceiling of {body} from {offer.present} to {offer.offered}",
            f"{_words(offer.kept)} takes at and over it were kept: between "
            f"{_share(offer.kept)} and {_share(offer.kept, high=True)} % would be"
            if side == "Raise" else
            f"{_words(offer.kept)} takes over it were kept: at most "
            f"{_share(offer.kept, high=True)} % would be",
            f"Of your setups with it {now} lie over the ceiling now, and {then} would",
        )  # fmt: skip
    best = offered_method(shoot, shots)
    if best is not None:
        own = next(one for one in method_counts(shots) if one.method.value == shoot.handheld)
        yield OfferView(
            "method", best.method.value,
            f"Go by {best.method.label} for what is held by hand in this shoot",
            f"{_words(best.kept)} takes within it were sharp: between "
            f"{_share(best.kept)} and {_share(best.kept, high=True)} % would be",
            f"{own.kept.count} takes lie within the limit now, {best.kept.count} would",
        )  # fmt: skip


def _grouped(read: list[LightRead]) -> tuple[Offsets, ...]:
    def key(one: LightRead) -> str:
        height = next(name for top, name in _HEIGHTS if one.sun_deg < top)
        if one.oktas is None:
            return f"{height}, cloud not known"
        cloud = "clear" if one.oktas < 2 else "broken cloud" if one.oktas < 7 else "overcast"
        return f"{height}, {cloud}"

    return offsets((key(one), one.off_stops) for one in read)


def _offset_words(one: Offsets) -> str:
    many = "1 reading" if one.count == 1 else f"{one.count} readings"
    said = f"{one.key}: {many}, on the mean {n.format_signed(one.mean_stops)} stops"
    if one.count > 1:
        said += f", spread {n.format_number(one.spread_stops, 1)}"
    return said


def _light_drawing(read: list[LightRead], size: Size) -> str:
    if not read:
        return ""
    dots = tuple(LightDot(one.sun_deg, one.off_stops, light_words(one)) for one in read)
    return light_drawing(dots, size)

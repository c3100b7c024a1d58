"""What a picture says beside its levels: noise, sharpness among its neighbours, trails, bands."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import log2
from statistics import median

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.notation import writing as n
from fotonomy.core.optics.star_trails import trail_mm
from fotonomy.core.pictures.bands import Bands, bands_between, bands_in, expected_count
from fotonomy.core.pictures.frame_levels import Area, FileCurve, Measured, Pixels
from fotonomy.core.pictures.patches import Tiles, noise_in, sharpness_in
from fotonomy.core.pictures.points import Point, trails_of
from fotonomy.core.spec.setup import Setup as Spec

# A frame whose noise is off by less is as the model has it: thirds, as ISO goes.
AS_MODELLED_STOPS = 1 / 3
# Sharpness that differs by less is the same.
SAME_SHARP_STOPS = 0.2
# A trail shorter than this is a point.
POINT_PX = 1.5


@dataclass(frozen=True, slots=True)
class Neighbour:
    """Another picture of the same setup: its name, tiles, and where the tone lies in it."""

    name: str
    tiles: Tiles
    area: Area


@dataclass(frozen=True, slots=True)
class Detail:
    """What is known of a picture beside its levels."""

    spec: Spec
    analysis: Analysis
    curve: FileCurve
    areas: dict[str, Area]
    found: Sequence[Measured]
    tiles: Tiles | None
    points: tuple[Point, ...]
    neighbours: Sequence[Neighbour]
    pixels: Pixels
    beside: Pixels | None


def detail_lines(detail: Detail) -> list[str]:
    """Whole sentences, the most telling first."""
    return [*_noise(detail), *_sharpness(detail), *_trails(detail), *_bands(detail)]


def looks_like(detail: Detail, name: str, stops: float) -> float | None:
    """The ISO that an area's noise looks like; None where it cannot be told.

    What the tone has more than the model gives it is what the shadows have more as well.
    """
    if detail.tiles is None or name not in detail.areas:
        return None
    profile = detail.spec.recorded_profile
    noise = noise_in(detail.tiles, detail.areas[name], detail.curve, profile)
    if noise is None:
        return None
    model, iso, wide = detail.analysis.noise.model, detail.spec.iso, detail.tiles.width_px
    shown, modelled = (
        float(model.iso_for(snr, stops, wide)) for snr in (noise.snr, model.snr(iso, stops, wide))
    )
    return float(model.looks_like(iso)) * shown / modelled


def _noise(detail: Detail) -> Iterator[str]:
    told = {
        one.name: looks_like(detail, one.name, one.stops)
        for one in detail.found if one.off_stops is not None
    }  # fmt: skip
    known = [iso for iso in told.values() if iso]
    if not known:
        return
    model, iso = detail.analysis.noise.model, detail.spec.iso
    looks = median(known)
    limit = detail.analysis.noise.limit_iso
    said = f"Its noise looks like ISO {_iso(looks)}; it was taken at ISO {iso}"
    modelled = float(model.looks_like(iso))
    off = n.format_stops(abs(_stops(looks, modelled)))
    if looks > modelled * 2**AS_MODELLED_STOPS:
        said += f", {off} noisier than the plan has it"
    elif looks < modelled / 2**AS_MODELLED_STOPS:
        said += f", {off} cleaner than the plan has it: the camera smooths, or the file does"
    else:
        said += ", as the plan has it"
    side = "inside" if looks <= limit else "past"
    yield f"{said}. That is {n.format_stops(abs(_stops(looks, limit)))} {side} your limit."


def _stops(one: float, other: float) -> float:
    return log2(one / other)


def _iso(value: float) -> str:
    return n.format_number(round(value, -1 if value < 1000 else -2), 0)


def _sharpness(detail: Detail) -> Iterator[str]:
    key = detail.analysis.level.key.name
    if detail.tiles is None or not detail.neighbours or key not in detail.areas:
        return
    own = sharpness_in(detail.tiles, detail.areas[key])
    others = [(sharpness_in(one.tiles, one.area), one.name) for one in detail.neighbours]
    best, name = max(others)
    count = len(others) + 1
    if own >= best - SAME_SHARP_STOPS:
        yield f"At {key} it is as sharp as any of the {count} pictures of this setup."
        return
    place = 1 + sum(value > own for value, _ in others)
    yield (
        f"At {key} it is number {place} of {count} pictures of this setup for sharpness; {name} is "
        "the sharpest."
    )


def _trails(detail: Detail) -> Iterator[str]:
    trails = trails_of(detail.points)
    spec = detail.spec
    if trails is None or detail.tiles is None:
        return
    scale = spec.delivered_px / detail.tiles.width_px
    length = trails.length_px * scale
    many = "1 bright point" if trails.count == 1 else f"{trails.count} bright points"
    if length < POINT_PX:
        least = n.format_number(POINT_PX)
        yield f"{many}: no trail to see, under {least} px of {spec.delivered_px}."
        return
    middle = "it trails" if trails.count == 1 else "the middle one trails"
    said = f"{many}: {middle} {n.format_number(length, 1)} px of {spec.delivered_px}"
    declination = spec.run.declination_deg
    if spec.records_stills and declination is not None:
        planned = trail_mm(spec.focal_mm, spec.time_s, declination) / spec.delivered_pitch_mm
        said += f"; stars were to trail {n.format_number(planned, 1)} px"
    longest = trails.longest
    if trails.count > 1 and longest.length_px > 2 * trails.length_px:
        said += (
            f". The longest, {n.format_number(longest.length_px * scale, 0)} px, is "
            f"{n.format_number(longest.x_percent, 0)} % across and "
            f"{n.format_number(longest.y_percent, 0)} % down"
        )
    yield f"{said}."


def _bands(detail: Detail) -> Iterator[str]:
    spec, readout = detail.spec, detail.spec.format.readout_ms
    expected = expected_count(readout, spec.pulses_hz) if readout and spec.lamps else None
    found: Bands | None = None
    if detail.beside is not None:
        found = bands_between(detail.pixels, detail.beside)
    if found is None and expected is not None:
        found = bands_in(detail.pixels, expected)
    if found is None:
        return
    said = (
        f"Bands lie across it: {n.format_number(found.count, 1)} over the height, "
        f"{n.format_number(found.stops, 2)} stop from dark to light"
    )
    if expected is not None and abs(found.count - expected) <= max(0.5, 0.15 * expected):
        said += f", as lamps of {spec.pulses_hz:.0f} pulses a second make"
    pulse = n.format_time(1 / spec.pulses_hz) if spec.pulses_hz else ""
    yield f"{said}. A shutter of whole pulses{f', {pulse} or so,' if pulse else ''} evens them out."

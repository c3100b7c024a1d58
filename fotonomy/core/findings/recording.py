"""Findings about the recording itself: a card too slow, too few bits, a battery too small."""

from collections.abc import Callable, Iterator
from math import floor

from fotonomy.core.analysis.interval import card_of, data_rate_mb_s
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.findings.interval import take_along
from fotonomy.core.gear.accessories import Battery, Card
from fotonomy.core.gear.body import RecordingFormat
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.readings import Surface
from fotonomy.core.spec.setup import Setup
from fotonomy.core.stills.edit_room import most_crop_percent, stabilised
from fotonomy.core.stills.energy import draw_of, supply_of
from fotonomy.core.tiles import Tile

CARD_SLOW = Family("clip.card_slow", Harm.NOTHING_RECORDED, Tile.CLIP, Tile.RUN)
THIN_CODEC = Family("clip.thin_codec", Harm.PRICE, Tile.CLIP, Tile.RUN)
BATTERY_SHORT = Family("clip.battery_short", Harm.NOTHING_RECORDED, Tile.CLIP, Tile.RUN)
ROOM_SHORT = Family("clip.room_short", Harm.PRICE, Tile.CLIP, Tile.RUN)

# Bits a pixel and frame under which a codec that looks across frames smears fine detail; a wide
# view full of leaves or water needs half as many again. Common practice, no source.
THIN_BITS, THIN_BITS_WIDE = 0.2, 0.3
# From this field width on a picture is a wide one. Common practice, no source.
WIDE_FIELD_M = 10.0
DETAILED = frozenset({Surface.FOLIAGE})


def card_slow(analysis: Analysis) -> Iterator[Finding]:
    """A card that takes in less than the camera sends: recording stops."""
    setup = analysis.setup
    card = card_of(setup)
    if setup.records_stills or card.write_mb_s is None:
        return
    needed = data_rate_mb_s(setup) / 8
    if card.write_mb_s >= needed:
        return
    ways = [
        take_along(setup, other) for other in setup.packed_devices
        if isinstance(other, Card) and (other.write_mb_s or 0.0) >= needed
    ][:1]  # fmt: skip
    ways += _other_recordings(setup, lambda mb_s, _: mb_s / 8 <= (card.write_mb_s or 0.0))
    yield Finding(
        CARD_SLOW, Severity.STOP, "The card is too slow: recording stops",
        f"{setup.format.name} writes {n.format_number(needed)} MB/s; {card.name} keeps up "
        f"{n.format_number(card.write_mb_s)} MB/s",
        needed, "MB/s", tuple(ways) or (_card_of(needed),),
    )  # fmt: skip


def _card_of(needed_mb_s: float) -> Fix:
    return Fix(f"a card of {n.format_number(needed_mb_s, 0)} MB/s", (), 0.0)


def bits_a_pixel(recorded: RecordingFormat, fps: float, mb_s: float) -> float:
    """Bits for each pixel of each frame: ``Mb/s·10⁶/(w·h·fps)``."""
    return mb_s * 1e6 / (recorded.width_px * recorded.height_px * fps)


def thin_codec(analysis: Analysis) -> Iterator[Finding]:
    """Too few bits for detail, above all for a wide view of leaves."""
    setup = analysis.setup
    if setup.records_stills:
        return
    bits = bits_a_pixel(setup.format, setup.frame_rate, data_rate_mb_s(setup))
    fine = any(reading.surface in DETAILED for reading in setup.readings)
    wide = fine and analysis.focus.field_width_m >= WIDE_FIELD_M
    least = THIN_BITS_WIDE if wide else THIN_BITS
    if bits >= least:
        return
    ways = _other_recordings(
        setup, lambda mb_s, f: bits_a_pixel(f, setup.frame_rate, mb_s) >= least
    )
    if setup.frame_rate > setup.project_fps * 1.001:
        slower = [o for o in analysis.offers["frame_rate"].options
                  if setup.project_fps * 0.999 <= o.value < setup.frame_rate
                  and _bits_at(setup, float(o.value)) >= least]  # fmt: skip
        ways += [fx.rebalanced(analysis, "frame_rate", o) for o in slower[-1:]]
    what = "wide views of leaves and water smear" if wide else "fine detail smears"
    yield Finding(
        THIN_CODEC, Severity.CAUTION, f"Few bits: {what}",
        f"{n.format_number(data_rate_mb_s(setup), 0)} Mb/s are {n.format_number(bits, 2)} bits a "
        f"pixel and frame; under {n.format_number(least, 1)} detail is lost",
        bits, "bits a pixel", tuple(ways) or (_record_outside(setup, least),),
    )  # fmt: skip


def _record_outside(setup: Setup, least: float) -> Fix:
    recorded = setup.format
    needed = least * recorded.width_px * recorded.height_px * setup.frame_rate / 1e6
    return Fix(f"a recorder of {n.format_number(needed, 0)} Mb/s or more", (), 0.0)


def _bits_at(setup: Setup, fps: float) -> float:
    rate = min(setup.format.rates, key=lambda one: abs(one.fps - fps))
    return bits_a_pixel(setup.format, fps, rate.mb_s)


def _other_recordings(setup: Setup, will_do: Callable[[float, RecordingFormat], bool]) -> list[Fix]:
    """Formats of this body that record the same rate and pass a test of Mb/s and format."""
    return [
        Fix(f"record {other.name}", (Change("recording", other.name),), 0.0)
        for other in setup.body.formats
        if other.name != setup.format.name
        and any(abs(r.fps / setup.frame_rate - 1) < 0.001 and will_do(r.mb_s, other)
                for r in other.rates)
    ][:2]  # fmt: skip


def battery_short(analysis: Analysis) -> Iterator[Finding]:
    """A take that outlasts the batteries on the camera."""
    setup, clip = analysis.setup, analysis.clip
    draw, supply = (
        draw_of(setup.body, setup.devices),
        supply_of(setup.devices, setup.run.temperature_c),
    )
    if setup.records_stills or draw is None or supply is None:
        return
    busy_w = draw.busy_w + draw.heater_w
    lasts_s = 3600 * supply.for_camera_wh(draw.pack_w * clip.record_s / 3600) / busy_w
    if lasts_s >= clip.record_s:
        return
    ways = [take_along(setup, other) for other in setup.packed_devices
            if isinstance(other, Battery) and not other.external][:1]  # fmt: skip
    # Handles are recorded as long as ever, however short the clip.
    stretch = clip.screen_s / clip.event_s
    screen = int(10 * (lasts_s - 2 * clip.handle_s) * stretch * 0.98) / 10
    if screen >= 0.1:
        text = f"{n.format_number(screen)} s on screen"
        ways.append(Fix(text, (Change("wanted_screen_s", screen),), 0.0))
    elif (screen := int(10 * lasts_s * stretch * 0.98) / 10) >= 0.1:
        text = f"no handles, {n.format_number(screen)} s on screen"
        changes = (Change("handle_s", 0.0), Change("wanted_screen_s", screen))
        ways.append(Fix(text, changes, 0.0))
    need = n.format_number(busy_w * clip.record_s / 3600)
    yield Finding(
        BATTERY_SHORT, Severity.STOP,
        f"The battery ends after {n.format_duration(lasts_s)}",
        f"One take records for {n.format_duration(clip.record_s)} and takes {need} Wh",
        lasts_s / 60, "min", tuple(ways) or (Fix(f"a battery of {need} Wh", (), 0.0),),
    )  # fmt: skip


def room_short(analysis: Analysis) -> Iterator[Finding]:
    """Cut so far to stabilise that the delivery is short of pixels."""
    setup, crop = analysis.setup, analysis.setup.intent.crop_percent
    room = stabilised(setup.format.width_px, crop, setup.delivered_px)
    if not crop or not room.soft:
        return
    most = floor(10 * most_crop_percent(setup.format.width_px, setup.delivered_px)) / 10
    ways = [
        Fix(f"record {other.name}", (Change("recording", other.name),), 0.0)
        for other in setup.body.formats
        if not setup.records_stills and setup.intent.delivery_px
        and not stabilised(other.width_px, crop, setup.delivered_px).soft
        and any(abs(r.fps / setup.frame_rate - 1) < 0.001 for r in other.rates)
    ][:1]  # fmt: skip
    if room.left_px >= 16:
        label = f"deliver {room.left_px} px wide"
        ways.append(Fix(label, (Change("delivery_px", room.left_px),), 0.0))
    said = f"cut {n.format_number(most)} % a side" if most else "cut nothing off"
    ways.append(Fix(said, (Change("crop_percent", most),), 0.0))
    yield Finding(
        ROOM_SHORT, Severity.CAUTION, "Stabilising leaves too few pixels",
        f"With {n.format_number(crop)} % cut off each side {room.left_px} px are left; the film is "
        f"delivered at {setup.delivered_px} px",
        float(room.left_px), "px", tuple(ways),
    )  # fmt: skip


CHECKS = (card_slow, thin_codec, battery_short, room_short)

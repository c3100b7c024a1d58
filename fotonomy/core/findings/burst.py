"""Findings about bursts: the buffer and the moment."""

from collections.abc import Iterator

from fotonomy.core.analysis.setup import Analysis, run_of
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.findings.interval import as_jpeg
from fotonomy.core.findings.motion import leaning
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.stills import Files
from fotonomy.core.stills.burst import Burst
from fotonomy.core.tiles import Tile

BUFFER_FULL = Family("burst.buffer_full", Harm.NOTHING_RECORDED, Tile.BURST, own_ways=True)
MOMENT_MISSED = Family("burst.moment_missed", Harm.PICTURE_LOST, Tile.BURST, own_ways=True)


def buffer_fills(analysis: Analysis) -> Iterator[Finding]:
    """A burst longer than the buffer holds out."""
    burst, setup = run_of(analysis, Burst), analysis.setup
    present = burst.present
    full = present.full_after_s
    if full is None or present.buffer is None or burst.lasts_s <= full * 1.001:
        return
    text = f"{n.format_number(full * 0.99, 2)} s"
    ways = [Fix(f"hold it for {text}", (Change("burst_s", round(full * 0.99, 2)),), 0.0)]
    ways += [
        Fix(f"{one.drive.name}, {n.format_number(one.rate_fps)} a second",
            (Change("frame_rate", one.rate_fps),), 0.0)
        for one in burst.choices
        if one.rate_fps < present.rate_fps
        and (one.full_after_s is None or one.full_after_s >= burst.lasts_s)
    ][-1:]  # fmt: skip
    if setup.run.files is not Files.JPEG:
        ways.append(as_jpeg())
    yield Finding(
        BUFFER_FULL, Severity.CAUTION,
        f"The buffer is full after {n.format_number(full, 2)} s",
        f"{n.format_number(present.buffer.full_after, 0)} frames at "
        f"{n.format_number(present.rate_fps)} a second, then "
        f"{n.format_number(present.buffer.write_fps)} a second; the card goes on writing for "
        f"{n.format_number(present.clears_s or 0.0)} s",
        full, "s", tuple(ways),
    )  # fmt: skip


def moment_missed(analysis: Analysis) -> Iterator[Finding]:
    """A rate that may well miss the moment."""
    burst = run_of(analysis, Burst)
    if burst.present.chance >= burst.advised.chance - 0.01:
        return
    present, better = burst.present, burst.advised
    rate = n.format_frame_rate(better.rate_fps)
    yield Finding(
        MOMENT_MISSED, Severity.CAUTION, "The moment may fall between two frames",
        f"It lasts {n.format_time(burst.moment_s)}; at {n.format_number(present.rate_fps)} a "
        f"second a frame catches it {n.format_share(present.chance)} of the time, with "
        f"{better.drive.name} {n.format_share(better.chance)}",
        100 * present.chance, "%",
        (Fix(f"{better.drive.name}, {rate} a second",
             (Change("frame_rate", better.rate_fps),), 0.0),),
    )  # fmt: skip


def lean(analysis: Analysis) -> Iterator[Finding]:
    """Uprights that an electronic drive leans: a mechanical one does not."""
    burst = run_of(analysis, Burst)
    mechanical = [one for one in burst.choices if not one.drive.electronic]
    ways = [
        Fix(f"{one.drive.name}, mechanical, {n.format_number(one.rate_fps)} a second",
            (Change("frame_rate", one.rate_fps),), 0.0)
        for one in sorted(mechanical, key=lambda one: -one.rate_fps)[:1]
    ]  # fmt: skip
    return leaning(analysis, ways)


CHECKS = (buffer_fills, moment_missed)

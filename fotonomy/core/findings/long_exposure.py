"""Findings about long exposures: combining, what passes, holes, bulb, the trail's length."""

from collections.abc import Iterator
from math import ceil, log, log2

from fotonomy.core import constants as c
from fotonomy.core.analysis.interval import noise_frame
from fotonomy.core.analysis.setup import Analysis, run_of
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.findings.interval import take_along
from fotonomy.core.gear.accessories import Remote
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.stills import Combining
from fotonomy.core.stills.long_exposure import LongExposure
from fotonomy.core.tiles import Tile

COMBINE_LIMIT = Family("trail.combine_limit", Harm.NOTHING_RECORDED, Tile.TRAIL)
NO_AVERAGING = Family("trail.no_averaging", Harm.NOTHING_RECORDED, Tile.TRAIL)
MAY_STAY_EMPTY = Family("trail.may_stay_empty", Harm.MOVES_WRONGLY, Tile.TRAIL)
HOLES = Family("trail.holes", Harm.MOVES_WRONGLY, Tile.TRAIL)
BULB = Family("trail.bulb", Harm.MOVES_WRONGLY, Tile.TRAIL)
BULB_TOO_LONG = Family(
    "shutter.bulb_too_long", Harm.NOTHING_RECORDED, Tile.TRAIL, Tile.CYCLE, Tile.MOTION
)
LENGTH = Family("trail.length", Harm.MOVES_WRONGLY, Tile.TRAIL)

# A hole in a trail that is seen, in delivered pixels. Common practice, no source.
HOLE_SEEN_PX = 3.0
# A chance of an empty frame worth a word. Common practice, no source.
EMPTY_CHANCE = 0.1


def combined_too_many(analysis: Analysis) -> Iterator[Finding]:
    """More exposures than the body combines."""
    long_exposure, setup = run_of(analysis, LongExposure), analysis.setup
    if not long_exposure.over_limit:
        return
    most, adds = setup.body.combines_most, setup.run.combining is Combining.ADDITIVE
    lost = -log2(long_exposure.frames) if adds else 0.0
    ways = [Fix(Combining.LATER.label, (Change("combining", Combining.LATER),), lost)]
    if most > 1:
        price = log2(most / long_exposure.frames) if adds else 0.0
        ways.insert(0, Fix(f"combine {most}", (Change("frames", most),), price))
    yield Finding(
        COMBINE_LIMIT, Severity.STOP, f"{setup.body.name} does not combine so many",
        f"{long_exposure.frames} exposures asked for; it combines "
        + (f"up to {most}" if most > 1 else "none in camera"),
        float(long_exposure.frames), "exposures", tuple(ways),
    )  # fmt: skip


def averaging_lacks(analysis: Analysis) -> Iterator[Finding]:
    """A body that adds but does not average."""
    setup = analysis.setup
    wanted = setup.run.combining is Combining.AVERAGE and setup.run.frames > 1
    if not wanted or setup.body.combines_averaging:
        return
    over = log2(setup.run.frames)
    yield Finding(
        NO_AVERAGING, Severity.STOP, f"{setup.body.name} does not average in camera",
        f"Its {setup.run.frames} exposures would be added up: {n.format_stops(over)} too bright",
        over, "stops",
        (Fix(Combining.LATER.label, (Change("combining", Combining.LATER),), 0.0),
         Fix(Combining.ADDITIVE.label, (Change("combining", Combining.ADDITIVE),), over)),
    )  # fmt: skip


def nothing_passes(analysis: Analysis) -> Iterator[Finding]:
    """A frame that may well stay empty."""
    long_exposure, setup = run_of(analysis, LongExposure), analysis.setup
    if long_exposure.empty_chance is None or long_exposure.passing is None:
        return
    if long_exposure.empty_chance <= EMPTY_CHANCE or setup.run.passes_s is None:
        return
    needed = -log(EMPTY_CHANCE) * setup.run.passes_s
    ways = []
    longer = [o for o in analysis.offers["shutter"].options
              if o.value.time_s * long_exposure.frames >= needed]  # fmt: skip
    if longer:
        ways.append(fx.rebalanced(analysis, "shutter", min(longer, key=lambda o: o.value.time_s)))
    frames = ceil(needed / setup.time_s)
    if frames <= 100:
        changes = (Change("combining", Combining.LATER), Change("frames", frames))
        ways.append(Fix(f"combine {frames} later", changes, 0.0))
    elif not longer and needed <= c.TIME_RANGE_S[1]:
        text = f"{ceil(needed)} s"
        ways.append(Fix(f"bulb, {text}", (Change("shutter", Shutter(time_s=float(ceil(needed)))),),
                        log2(needed / setup.time_s)))  # fmt: skip
    if not ways:
        ways.append(Fix("leave it to chance", (Change("passes_s", None),), 0.0))
    yield Finding(
        MAY_STAY_EMPTY, Severity.CAUTION,
        f"{n.format_share(long_exposure.empty_chance)} of such pictures catch nothing",
        f"{n.format_number(long_exposure.passing, 2)} pass on average in the "
        f"{n.format_time(long_exposure.open_s)} that the shutter is open",
        100 * long_exposure.empty_chance, "%", tuple(ways),
    )  # fmt: skip


def holes(analysis: Analysis) -> Iterator[Finding]:
    """Gaps in a trail between two exposures."""
    long_exposure, setup = run_of(analysis, LongExposure), analysis.setup
    if long_exposure.frames < 2 or long_exposure.hole_px <= HOLE_SEEN_PX:
        return
    ways = []
    if noise_frame(setup):
        ways.append(Fix("noise reduction off", (Change("noise_frames", False),), 0.0))
    price = -log2(long_exposure.frames) if setup.run.combining is Combining.ADDITIVE else 0.0
    ways.append(Fix("one exposure", (Change("combining", Combining.SINGLE),), price))
    yield Finding(
        HOLES, Severity.CAUTION, "The trail has gaps",
        f"Between two exposures {n.format_time(long_exposure.gap_s)} go by: "
        f"{n.format_number(long_exposure.hole_px, 0)} px of the trail are missing",
        long_exposure.hole_px, "px", tuple(ways),
    )  # fmt: skip


def bulb_needs_remote(analysis: Analysis) -> Iterator[Finding]:
    """Beyond the body's own times somebody or something has to hold the shutter."""
    long_exposure, setup = run_of(analysis, LongExposure), analysis.setup
    if not long_exposure.bulb:
        return
    if any(isinstance(device, Remote) for device in setup.devices):
        return
    ways = [take_along(setup, d) for d in setup.packed_devices if isinstance(d, Remote)][:1]
    slowest = analysis.offers["shutter"].options[:1]
    ways += [fx.rebalanced(analysis, "shutter", option) for option in slowest]
    yield Finding(
        BULB, Severity.CAUTION, "Bulb needs a remote that holds it",
        f"{n.format_time(setup.time_s)} is beyond {setup.body.name}'s "
        f"{n.format_time(setup.body.slowest_s)}",
        setup.time_s, "s", tuple(ways),
    )  # fmt: skip


def bulb_too_long(analysis: Analysis) -> Iterator[Finding]:
    """A bulb exposure that the body ends before the remote does."""
    setup, longest = analysis.setup, analysis.setup.body.longest_bulb_s
    if longest is None or setup.time_s <= longest * 1.001:
        return
    frames = ceil(setup.time_s / longest)
    ways = []
    if setup.single_frame and setup.run.frames == 1 and frames <= 100:
        each = round(setup.time_s / frames, 3)
        changes = (Change("shutter", Shutter(time_s=each)),
                   Change("combining", Combining.LATER), Change("frames", frames))  # fmt: skip
        ways.append(Fix(f"{frames} of {n.format_time(each)}, combined later", changes, 0.0))
    shorter = Shutter(time_s=longest)
    ways.append(
        Fix(n.format_time(longest), (Change("shutter", shorter),), log2(longest / setup.time_s))
    )
    yield Finding(
        BULB_TOO_LONG, Severity.STOP, f"{setup.body.name} ends it by itself",
        f"{n.format_time(setup.time_s)} asked for; this body's bulb ends after "
        f"{n.format_time(longest)}",
        setup.time_s - longest, "s", tuple(ways),
    )  # fmt: skip


def trail_length(analysis: Analysis) -> Iterator[Finding]:
    """A trail far from the length wanted."""
    long_exposure, setup = run_of(analysis, LongExposure), analysis.setup
    if not long_exposure.wanted_s or not setup.run.trail_percent:
        return
    off = log2(setup.time_s / long_exposure.wanted_s)
    if abs(off) <= 1 / 3 + 0.02:
        return
    options = analysis.offers["shutter"].options
    wanted = long_exposure.wanted_s
    ways = []
    if options:
        near = min(options, key=lambda o: abs(log2(o.value.time_s / wanted)))
        ways.append(fx.rebalanced(analysis, "shutter", near))
    text = f"{n.format_number(long_exposure.whole_percent, 1)} %"
    if 0.1 <= long_exposure.whole_percent <= 1000:
        ways.append(
            Fix(
                f"take {text} of the frame",
                (Change("trail_percent", round(long_exposure.whole_percent, 1)),),
                0.0,
            )
        )
    yield Finding(
        LENGTH,
        Severity.CAUTION,
        f"The trail comes out {'longer' if off > 0 else 'shorter'} than wanted",
        f"{n.format_number(long_exposure.whole_percent, 0)} % of the frame in "
        f"{n.format_time(long_exposure.open_s)}; "
        f"{n.format_number(setup.run.trail_percent, 0)} % take {n.format_time(wanted)} each",
        long_exposure.whole_percent,
        "%",
        tuple(ways),
    )


CHECKS = (
    combined_too_many,
    averaging_lacks,
    nothing_passes,
    holes,
    bulb_needs_remote,
    bulb_too_long,
    trail_length,
)

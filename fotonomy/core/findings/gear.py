"""Findings about what the gear cannot do: settings, mount, profile, format, limits."""

from collections.abc import Iterator
from dataclasses import replace

from fotonomy.core.analysis.interval import worked_out
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.scales import Option, is_bulb
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.findings.shutter import shutter_and_frame
from fotonomy.core.gear.filters import FilterKind, Mount
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.motion.shutter import rate_fps
from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.limits import format_limit
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.setup import LIMITABLE, SETTINGS, Setup
from fotonomy.core.spec.stills import Follows
from fotonomy.core.tiles import Tile

# By setting: what it harms where gear lacks it, and its tile.
_OF_SETTING = {
    "frame_rate": (Harm.PICTURE_LOST, Tile.MOTION), "shutter": (Harm.NOTHING_RECORDED, Tile.MOTION),
    "iris": (Harm.PICTURE_LOST, Tile.LIGHT), "iso": (Harm.PICTURE_LOST, Tile.NOISE),
    "nd_density": (Harm.PICTURE_LOST, Tile.LIGHT), "focal_mm": (Harm.PICTURE_LOST, Tile.FOCUS),
    "subject_distance_m": (Harm.PICTURE_LOST, Tile.FOCUS),
}  # fmt: skip
# What a setting is called in the ids of findings, which never change.
_IDS = {"nd_density": "nd"}
GEAR_LACKS = {
    name: Family(f"{_IDS.get(name, name)}.gear_lacks", *_OF_SETTING[name], own_ways=True)
    for name in SETTINGS
}
OUTSIDE_LIMITS = {
    name: Family(f"{_IDS.get(name, name)}.outside_limits", Harm.TASTE, _OF_SETTING[name][1])
    for name in LIMITABLE
}
LENS_LACKS = Family("focal.lens_lacks", Harm.PICTURE_LOST, Tile.FOCUS)
WRONG_MOUNT = Family("lens.wrong_mount", Harm.NOTHING_RECORDED, Tile.FOCUS)
# A filter as strong as what is asked for, within the rounding of engraved densities.
RING_WITHIN_STOPS = 0.1
PROFILE_LACKING = Family("profile.body_lacks", Harm.PICTURE_LOST, Tile.LEVEL)
RECORDING_LACKING = Family("recording.body_lacks", Harm.NOTHING_RECORDED, Tile.CLIP, Tile.RUN)


def gear_lacks(analysis: Analysis) -> Iterator[Finding]:
    """A setting the chosen body, lens or glass does not have."""
    setup = analysis.setup
    owners = {
        "frame_rate": setup.body.name, "shutter": setup.body.name, "iris": setup.lens.name,
        "iso": setup.body.name, "nd_density": "your filters",
    }  # fmt: skip
    for name, owner in owners.items():
        offer = analysis.offers[name]
        if not offer.lacks_present or not offer.options or _passes_anyway(analysis, name):
            continue
        at = offer.insert_at
        near = offer.options[max(0, at - 1) : at + 1]
        yield Finding(
            GEAR_LACKS[name], Severity.STOP,
            _cannot(setup, name, owner),
            f"{_present(analysis, name)} is not on its scale; the nearest is "
            + " or ".join(fx.label_of(name, o) for o in near),
            float(setup.time_s if name == "shutter" else _plain(analysis, name)),
            {"frame_rate": "fps", "shutter": "s", "nd_density": "density"}.get(name, ""),
            (*_other_formats(setup, name),
             *(_to_mark(analysis, name, option) for option in near)),
        )  # fmt: skip
    if not setup.body.takes(setup.lens):
        yield _wrong_mount(setup)
    short, long = setup.lens.focal_shortest_mm, setup.lens.focal_longest_mm
    if not short * 0.999 <= setup.focal_mm <= long * 1.001:
        nearest = short if setup.focal_mm < short else long
        text = f"{n.format_number(nearest)} mm"
        yield Finding(
            LENS_LACKS, Severity.STOP, _focal_words(setup),
            f"{n.format_number(setup.focal_mm)} mm lies outside "
            f"{n.format_number(short)} to {n.format_number(long)} mm",
            setup.focal_mm, "mm", (Fix(text, (Change("focal_mm", nearest),), 0.0),),
        )  # fmt: skip


def _focal_words(setup: Setup) -> str:
    """What is wrong with a focal length that the lens has not."""
    lens = setup.lens
    short, long = n.format_number(lens.focal_shortest_mm), n.format_number(lens.focal_longest_mm)
    if short == long:
        return f"{lens.name} is a prime of {short} mm"
    return f"{lens.name} goes from {short} to {long} mm"


def ring_words(setup: Setup) -> str:
    """Which filter of this strength is owned and does not go on this lens, and the ring for it.

    "" where none is.
    """
    thread = setup.lens.thread_mm
    for piece in setup.glass:
        low, high = piece.stops, piece.most_stops or piece.stops
        wanted = density_to_stops(setup.nd_density)
        strong = low - RING_WITHIN_STOPS <= wanted <= high + RING_WITHIN_STOPS
        if (
            thread is None or not strong or piece.fits(setup.front)
            or piece.seat is not Mount.THREAD or piece.thread_mm is None
        ):  # fmt: skip
            continue
        if piece.kind in (FilterKind.ND, FilterKind.VARIABLE_ND):
            own, lens = n.format_number(piece.thread_mm), n.format_number(thread)
            return (
                f"Your {piece.name} ({own} mm) does not fit this lens ({lens} mm). "
                f"A {lens} to {own} ring would do"
            )
    return ""


def _cannot(setup: Setup, name: str, owner: str) -> str:
    """What is wrong with a value that is on no scale, as a sentence about what to do or have."""
    if name == "nd_density":
        return ring_words(setup) or "You own no filter of this strength for this lens"
    if name == "frame_rate" and setup.kind.traits.has_interval:
        return "Choose an interval: 1 s or longer"
    if name == "frame_rate" and setup.kind.traits.drive:
        return f"{owner} has no drive this fast"
    return f"{owner} has no such {_word(name)}"


def _other_formats(setup: Setup, name: str) -> tuple[Fix, ...]:
    """Formats of this body that record a rate which the one in use does not."""
    if name != "frame_rate" or setup.records_stills:
        return ()
    rate = rate_fps(setup.frame_rate)
    able = [f for f in setup.body.formats if any(abs(rate_fps(r.fps) / rate - 1) < 5e-4
                                                 for r in f.rates)]  # fmt: skip
    return tuple(
        Fix(f"record {f.name}, it does {n.format_frame_rate(setup.frame_rate)} fps",
            (Change("recording", f.name),), 0.0)
        for f in able[:3]
    )  # fmt: skip


def _to_mark(analysis: Analysis, name: str, option: Option) -> Fix:
    """A mark beside a value that is on no scale; what follows an interval may not keep up."""
    fix, setup = fx.fix_to(analysis, name, option), analysis.setup
    if name == "frame_rate" and setup.kind.traits.has_interval:
        try:
            worked_out(replace(setup, frame_rate=option.value))
        except RuleError:
            return replace(fix, changes=(*fix.changes, Change("follows", Follows.EVENT)))
    return fix


def _wrong_mount(setup: Setup) -> Finding:
    fitting = [lens.name for lens in setup.packed_lenses if setup.body.takes(lens)]
    ways = tuple(Fix(name, (Change("lens", name),), 0.0) for name in fitting[:3])
    choose = Fix("let the planner choose a lens", (Change("held_lens", False),), 0.0)
    return Finding(
        WRONG_MOUNT, Severity.STOP, f"{setup.lens.name} does not go on {setup.body.name}",
        f"Its mount is {setup.lens.mount}, the body's is {setup.body.mount}; "
        f"{len(fitting) or 'none'} of the lenses to choose from fit",
        float(len(fitting)), "lenses", ways or (choose,),
    )  # fmt: skip


def profile(analysis: Analysis) -> Iterator[Finding]:
    """A profile the chosen body does not record."""
    setup = analysis.setup
    names = setup.body.profiles
    if not names or setup.profile.name in names:
        return
    yield Finding(
        PROFILE_LACKING, Severity.STOP, f"{setup.body.name} does not record this profile",
        f"{setup.profile.name} is not among the {len(names)} it records: {', '.join(names)}",
        float(len(names)), "profiles",
        tuple(Fix(name, (Change("profile", name),), 0.0) for name in names[:3]),
    )  # fmt: skip


def limits(analysis: Analysis) -> Iterator[Finding]:
    """A setting outside the limits the person set for it."""
    setup = analysis.setup
    for limit in setup.limits:
        name = limit.setting
        if name not in analysis.offers:
            continue
        size = (lambda o: o.value.seconds(setup.frame_rate)) if name == "shutter" else (
            lambda o: float(o.value))  # fmt: skip
        value = setup.time_s if name == "shutter" else _plain(analysis, name)
        if limit.holds(value):
            continue
        inside = [o for o in analysis.offers[name].options if limit.holds(size(o))]
        ways = [fx.rebalanced(analysis, name, min(inside, key=lambda o: abs(size(o) - value)))
                ] if inside else []  # fmt: skip
        ways.append(Fix("lift the limits", (Change(f"limit_{name}", None),), 0.0))
        yield Finding(
            OUTSIDE_LIMITS[name], Severity.CAUTION,
            f"{_present(analysis, name)} is outside your limits",
            f"Held within {format_limit(limit)}",
            value, {"shutter": "s", "frame_rate": "fps"}.get(name, ""), tuple(ways),
        )  # fmt: skip


def recording(analysis: Analysis) -> Iterator[Finding]:
    """A recording format the chosen body does not have."""
    setup = analysis.setup
    names = [f.name for f in setup.body.formats]
    if not setup.recording or setup.recording in names:
        return
    yield Finding(
        RECORDING_LACKING, Severity.STOP, f"{setup.body.name} has no such recording format",
        f"{setup.recording} is not among the {len(names)} it records: {', '.join(names[:4])}",
        float(len(names)), "formats",
        tuple(Fix(name, (Change("recording", name),), 0.0) for name in names[:3]),
    )  # fmt: skip


def _plain(analysis: Analysis, name: str) -> float:
    setup = analysis.setup
    return float(getattr(setup, name))


def _word(name: str) -> str:
    return {"frame_rate": "frame rate", "iso": "ISO", "nd_density": "ND"}.get(name, name)


def _present(analysis: Analysis, name: str) -> str:
    setup = analysis.setup
    return {
        "frame_rate": n.format_frame_rate(setup.frame_rate),
        "shutter": n.format_shutter(setup.shutter),
        "iris": n.format_iris(setup.iris),
        "iso": f"ISO {setup.iso}",
        "nd_density": f"ND {n.format_density(setup.nd_density)}",
    }[name]


def _passes_anyway(analysis: Analysis, name: str) -> bool:
    """Stepless rings and timers, and what another finding already says."""
    setup = analysis.setup
    match name:
        case "iris":
            widest = setup.lens.widest_at(setup.focal_mm)
            return widest * 0.999 <= setup.iris <= setup.lens.smallest_f * 1.001
        case "frame_rate":
            return setup.single_frame or (setup.kind.traits.has_interval and setup.frame_rate <= 1)
        case "shutter":
            return is_bulb(setup) or any(f for f in shutter_and_frame(analysis))
    return False


CHECKS = (gear_lacks, profile, recording, limits)

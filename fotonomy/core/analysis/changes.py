"""What a change brings along: the third of event, interval and clip, and a drive's rate."""

from collections.abc import Iterable, Mapping
from dataclasses import replace

from fotonomy.core.analysis.burst import drive_in_use
from fotonomy.core.analysis.interval import worked_out
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.lens import Lens
from fotonomy.core.gear.profile import Profile
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.changes import Change, applied
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Follows
from fotonomy.core.stills.burst import rate_of
from fotonomy.core.stills.interval import INTERVAL_RANGE_S, SUBJECTS, frames_for

FIRST_INTERVAL_S = 2.0


def carried_through(
    setup: Setup, changes: Iterable[Change], profiles: Mapping[str, Profile] | None = None
) -> Setup:
    """The setup with changes made, and with what they bring along.

    Raises RuleError naming the setting that would break a rule.
    """
    return brought_along(setup, applied(setup, changes, profiles))


def brought_along(before: Setup, setup: Setup) -> Setup:
    """What a change of a setup brings along; ``before`` is the setup as it was.

    Another drive is meant where focus starts or stops following: its rate goes along. Another lens
    sets the focal length it has.
    """
    focusing = setup.run.continuous_focus
    if before.run.continuous_focus != focusing and before.frame_rate == setup.frame_rate:
        setup = replace(setup, frame_rate=rate_of(drive_in_use(before), focusing))
    if before.kind is not setup.kind:
        setup = _rate_of_kind(before, setup)
    setup = _focal_of_lens(before, setup)
    return with_third(before, setup)


def _rate_of_kind(before: Setup, setup: Setup) -> Setup:
    """A rate of video is no interval, and an interval no rate of video: the usual one instead.

    The exposure stays as long as it was, where a frame of video has room for it.
    """
    if setup.kind.traits.has_interval and setup.frame_rate > 1:
        kept = Shutter(time_s=before.time_s)
        return replace(setup, frame_rate=1 / first_interval_s(setup), shutter=kept)
    if before.kind.traits.has_interval and not setup.records_stills and setup.frame_rate <= 1:
        fits = before.time_s * setup.project_fps <= 1
        shutter = setup.shutter if fits else Shutter(angle_deg=setup.intent.look.angle_deg)
        return replace(setup, frame_rate=setup.project_fps, shutter=shutter)
    return setup


def first_interval_s(setup: Setup) -> float:
    """What an interval run starts with: that of stars where there are some, else two seconds.

    Common practice, no source.
    """
    return SUBJECTS["stars"][0] if setup.run.declination_deg is not None else FIRST_INTERVAL_S


def with_third(before: Setup, setup: Setup) -> Setup:
    """Event, interval and clip put right after a change of one of them.

    Whoever changes the one that follows means it: then another one follows. Raises
    RuleError naming the clip or the event where it cannot be.
    """
    if not setup.kind.traits.has_interval:
        return setup
    moved = {
        Follows.EVENT: before.run.event_s != setup.run.event_s,
        Follows.INTERVAL: before.frame_rate != setup.frame_rate,
        Follows.CLIP: before.wanted_screen_s != setup.wanted_screen_s,
    }
    fresh = not before.kind.traits.has_interval or before.run.follows is not setup.run.follows
    if not any(moved.values()) and not fresh and before.project_fps == setup.project_fps:
        return setup
    follows = setup.run.follows
    if moved[follows] and not fresh:
        follows = Follows.CLIP if follows is Follows.EVENT else Follows.EVENT
    setup = replace(setup, run=replace(setup.run, follows=follows))
    return _interval_within_reach(setup) if follows is Follows.INTERVAL else worked_out(setup)


def _interval_within_reach(setup: Setup) -> Setup:
    """The interval worked out; the nearest there is while event and clip are not both typed yet.

    What the two then come to is a finding of the run, not a refusal of what was typed.
    """
    try:
        return worked_out(setup)
    except RuleError:
        frames = frames_for(setup.wanted_screen_s, setup.project_fps)
        wanted_s = setup.run.event_s / max(1, frames - 1)
        low, high = INTERVAL_RANGE_S
        return replace(setup, frame_rate=1 / min(high, max(low, wanted_s)))


def _focal_of_lens(before: Setup, setup: Setup) -> Setup:
    """Through another lens the nearest focal length it has, unless one was chosen along with it."""
    chosen = setup.focal_mm != before.focal_mm
    if setup.lens.name == before.lens.name or chosen or _reaches(setup.lens, setup.focal_mm):
        return setup
    lens = setup.lens
    focal = (
        lens.focal_shortest_mm if setup.focal_mm < lens.focal_shortest_mm else lens.focal_longest_mm
    )
    try:
        return replace(setup, focal_mm=focal)
    except RuleError:
        # So near that this lens would touch it: the finding says so.
        return setup


def _reaches(lens: Lens, focal_mm: float) -> bool:
    return lens.focal_shortest_mm * 0.999 <= focal_mm <= lens.focal_longest_mm * 1.001


def lens_words(before: Setup, setup: Setup) -> str:
    """What another lens set along with it, in a sentence; "" where it set nothing."""
    lens = setup.lens
    if lens.name == before.lens.name or _reaches(lens, before.focal_mm):
        return ""
    if setup.focal_mm not in (lens.focal_shortest_mm, lens.focal_longest_mm):
        return ""
    short, long = (n.format_number(mm) for mm in (lens.focal_shortest_mm, lens.focal_longest_mm))
    why = "is a prime" if short == long else f"goes from {short} to {long} mm"
    return f"{lens.name} {why}: the focal length is now {n.format_number(setup.focal_mm)} mm."

"""Is there enough light at all? The settings at the limit, what is missing, and the ways out."""

from dataclasses import dataclass, replace
from math import log2
from typing import Any

from fotonomy.core import constants as c
from fotonomy.core.analysis.setup import analyse, model_of
from fotonomy.core.compare.profiles import shown_on
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.exposure.scales import frame_rate_offer, iris_offer, iso_offer, shutter_offer
from fotonomy.core.findings.finding import Fix
from fotonomy.core.gear.lens import Lens
from fotonomy.core.gear.profile import Profile
from fotonomy.core.motion.shutter import Shutter, rate_fps
from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.exposure_value import INCIDENT_C_LX_S, ev100_of, illuminance_lx
from fotonomy.core.photometry.stops import aperture_stops
from fotonomy.core.sky.light import clear_sky_lx
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import Setup

# The sun's altitude at which one still sees a lit sky, to darken later: common practice.
DUSK_ALTITUDE_DEG = -4.0


@dataclass(frozen=True, slots=True)
class WayOut:
    """One option: what it is, the stops it gives, what it costs, and how to take it.

    ``gain_stops`` None is an option whose number is in the words. ``changes`` is empty where
    nothing on the bench can be pressed for it.
    """

    name: str
    gain_stops: float | None
    price: str
    fix: Fix | None = None


@dataclass(frozen=True, slots=True)
class LowLight:
    """The setup at its limit. ``missing_stops`` is positive where light lacks.

    ``limit`` is the setup with the widest iris, no ND, the ISO ceiling and the shutter as
    wanted; ``limit_fix`` sets it.
    """

    limit: Setup
    limit_fix: Fix
    missing_stops: float
    words: str
    ways: tuple[WayOut, ...]


def low_light(setup: Setup, profiles: tuple[Profile, ...] = ()) -> LowLight:
    """Answer it for one setup; ``profiles`` are others the body records."""
    limit = at_the_limit(setup)
    missing = -light_budget(limit).error_stops
    changes = _changes(setup, limit)
    fix = Fix("set the limit", changes, light_budget(limit).error_stops
              - light_budget(setup).error_stops)  # fmt: skip
    settings = f"{n.format_iris(limit.iris)}, {n.format_time(limit.time_s)}, ISO {limit.iso}, no ND"
    spare = n.format_stops(missing)
    words = (
        f"At the limit, {settings}: {spare} in hand"
        if missing <= 0
        else f"Even at the limit, {settings}: {spare} missing"
    )
    ways = [*_shutter(limit), *_rate(limit), *_lenses(limit), *_iso(limit)]
    ways += [*_profiles(limit, profiles), *_averaging(limit), *_lamp(limit, missing)]
    ways += _dusk(limit)
    return LowLight(limit, fix, missing, words, tuple(ways))


def at_the_limit(setup: Setup) -> Setup:
    """The most light these choices allow: iris open, no ND, ISO at the ceiling."""
    bare = replace(setup, nd_density=0.0)
    irises, isos = iris_offer(bare).options, iso_offer(bare).options
    widest = min((float(o.value) for o in irises), default=setup.iris)
    under = [int(o.value) for o in isos if o.value <= setup.body.iso_ceiling]
    return replace(bare, iris=widest, iso=max(under, default=setup.iso))


def _changes(setup: Setup, target: Setup) -> tuple[Change, ...]:
    names = ("nd_density", "iris", "iso", "shutter")
    return tuple(
        Change(name, getattr(target, name))
        for name in names
        if getattr(target, name) != getattr(setup, name)
    )


def _shutter(limit: Setup) -> list[WayOut]:
    options = shutter_offer(limit).options
    if not options:
        return []
    longest: Shutter = max(
        (o.value for o in options), key=lambda s: float(s.seconds(limit.frame_rate))
    )
    gain = log2(longest.seconds(limit.frame_rate) / limit.time_s)
    if gain < 0.1:
        return []
    slower = replace(limit, shutter=longest)
    smear = analyse(slower).motion
    price = f"every smear {n.format_number(2**gain)} times as long; move slowly"
    if limit.subject_speed_m_s > c.STILL_BELOW_M_S:
        price = (
            f"smear {n.format_number(smear.smear_percent)} % of the frame; move slowly, and "
            f"{limit.subject} too"
        )
    name = f"Slower shutter, {n.format_shutter(longest)}"
    return [WayOut(name, gain, price, _fix(name, "shutter", longest, gain))]


def _rate(limit: Setup) -> list[WayOut]:
    if limit.records_stills:
        return []
    rates = [float(o.value) for o in frame_rate_offer(limit).options]
    lower = [r for r in rates if limit.project_fps * 0.999 <= r < limit.frame_rate * 0.999]
    if not lower:
        return []
    lowest = min(lower)
    gain = log2(rate_fps(limit.frame_rate) / rate_fps(lowest))
    text = n.format_frame_rate(lowest)
    name = f"Lower frame rate, {text} fps"
    changes = [Change("frame_rate", lowest)]
    if limit.shutter.angle_deg is None:
        longer = min(2**gain * limit.time_s, 1 / lowest)
        changes.append(Change("shutter", Shutter(time_s=longer)))
    price = "no slow motion" if lowest <= limit.project_fps else "less slow motion"
    return [WayOut(name, gain, price, Fix(name, tuple(changes), gain))]


def _lenses(limit: Setup) -> list[WayOut]:
    best: tuple[float, Lens] | None = None
    own = aperture_stops(limit.iris) + limit.lens.transmission_stops
    for lens in limit.packed_lenses:
        focal = min(max(limit.focal_mm, lens.focal_shortest_mm), lens.focal_longest_mm)
        gain = own - aperture_stops(lens.widest_at(focal)) - lens.transmission_stops
        if gain > 0.1 and limit.body.takes(lens) and (best is None or gain > best[0]):
            best = (gain, lens)
    if best is None:
        return []
    gain, lens = best
    focal = min(max(limit.focal_mm, lens.focal_shortest_mm), lens.focal_longest_mm)
    wide = n.format_iris(lens.widest_at(focal))
    changes = [Change("lens", lens.name), Change("focal_mm", focal),
               Change("iris", lens.widest_at(focal))]  # fmt: skip
    price = f"{wide}: less depth" if abs(focal - limit.focal_mm) < 0.5 else (
        f"{wide} at {n.format_number(focal, 0)} mm: less depth, another framing")  # fmt: skip
    name = f"Faster lens, {lens.name}"
    return [WayOut(name, gain, price, Fix(name, tuple(changes), gain))]


def _iso(limit: Setup) -> list[WayOut]:
    """The upper base where it is not reached yet, and what lies over the ceiling."""
    model, found = model_of(limit), []
    limit_iso = float(model.looks_like(limit.body.iso_ceiling))
    upper = model.upper_base
    reach = [int(o.value) for o in iso_offer(limit).options]
    if upper is not None and limit.iso < upper and upper in reach:
        gain = log2(upper / limit.iso)
        shown = float(model.looks_like(upper))
        side = log2(shown / limit_iso)
        said = f"{n.format_stops(side)} {'noisier' if side > 0 else 'cleaner'} than your limit"
        name = f"The other base, ISO {upper}"
        found.append(WayOut(name, gain, said, _fix(name, "iso", upper, gain)))
    over = [iso for iso in reach if iso > limit.body.iso_ceiling]
    if over:
        nearest = min(over, key=lambda iso: abs(log2(iso / limit.body.iso_ceiling) - 1))
        gain = log2(nearest / limit.iso)
        noisier = log2(float(model.looks_like(nearest)) / limit_iso)
        name = f"Over your ceiling, ISO {nearest}"
        found.append(
            WayOut(name, gain, f"{n.format_stops(noisier)} noisier than your limit",
                   _fix(name, "iso", nearest, gain))
        )  # fmt: skip
    return found


def _profiles(limit: Setup, profiles: tuple[Profile, ...]) -> list[WayOut]:
    """Another profile gives no light, but cleaner shadows at the same ISO."""
    own, best = model_of(limit), None
    for profile in profiles:
        if profile.name == limit.profile.name:
            continue
        there = shown_on(own, replace(limit, profile=profile), 0.0)
        cleaner = log2(shown_on(own, limit, 0.0) / there)
        if cleaner > 0.1 and (best is None or cleaner > best[0]):
            best = (cleaner, profile)
    if best is None:
        return []
    cleaner, profile = best
    name = f"Another profile, {profile.name}"
    price = (
        f"shadows {n.format_stops(cleaner)} cleaner at this ISO, "
        f"{n.format_number(analyse(replace(limit, profile=profile)).level.headroom_stops)} stops "
        "over grey"
    )
    return [WayOut(name, None, price, _fix(name, "profile", profile.name, 0.0))]


def _averaging(limit: Setup) -> list[WayOut]:
    frames = 4
    model, intent = model_of(limit), limit.intent
    plain = model.looks_like(limit.iso, 0, intent.delivery_px, intent.averaged_frames)
    many = model.looks_like(limit.iso, 0, intent.delivery_px, frames * intent.averaged_frames)
    gain = log2(float(plain) / float(many))
    return [
        WayOut(
            f"Average {frames} frames", None,
            f"{n.format_stops(gain)} less noise to spend on underexposure; only where nothing "
            "moves",
            _fix("average", "averaged_frames", frames * intent.averaged_frames, 0.0),
        )
    ]  # fmt: skip


def _lamp(limit: Setup, missing: float) -> list[WayOut]:
    if missing <= 0:
        return []
    ev = ev100_of(limit.light) + missing
    return [
        WayOut(
            "Find a lamp, or carry one", missing,
            f"{n.format_compact(2**missing)} times the light: "
            f"{n.format_compact(illuminance_lx(ev))} lux on the subject",
        )
    ]  # fmt: skip


def _dusk(limit: Setup) -> list[WayOut]:
    ev = log2(clear_sky_lx(DUSK_ALTITUDE_DEG) * 100 / INCIDENT_C_LX_S)
    gain = ev - ev100_of(limit.light)
    if gain < 0.1:
        return []
    return [
        WayOut(
            "Come at dusk, darken it later", gain,
            f"clear sky with the sun at {n.format_number(DUSK_ALTITUDE_DEG, 0)}° gives "
            f"EV {n.format_number(ev)}",
            _fix("dusk", "kind", Kind.DUSK_FOR_NIGHT, 0.0),
        )
    ]  # fmt: skip


def _fix(label: str, setting: str, value: Any, price: float) -> Fix:
    return Fix(label, (Change(setting, value),), price)

"""What is wrong with a plan: each finding says what, why with the number, and a fix."""

from collections.abc import Callable, Iterator
from math import floor, inf

from fotonomy.core import constants as c
from fotonomy.core import notation as n
from fotonomy.core.analysis.setup import Facts, equivalent_focal_mm
from fotonomy.core.exposure.light_budget import Balance
from fotonomy.core.exposure.scales import Option, is_bulb, shutter_offer, with_setting
from fotonomy.core.findings import burst_and_long_exposure as still
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings import focus as focused
from fotonomy.core.findings import interval as running
from fotonomy.core.findings import level as toned
from fotonomy.core.findings import motion as moving
from fotonomy.core.findings.finding import Finding, Severity
from fotonomy.core.findings.fixes import Change, Fix, at_rate
from fotonomy.core.motion.shutter import rate_fps
from fotonomy.core.parsing.intent import format_limit
from fotonomy.core.spec.setup import Kind, Setup
from fotonomy.core.stills.clip import Clip


def exposure(facts: Facts) -> Iterator[Finding]:
    """The balance of the light budget."""
    error = facts.budget.error_stops
    if facts.budget.verdict in (Balance.BALANCED, Balance.CLOSE):
        return
    side = "over" if error > 0 else "under"
    offered = fx.exposure_fixes(facts, error)
    best = offered[0].price_stops + error if offered else error
    short = "" if abs(best) <= 0.5 else f"; this gear gets it to {n.format_signed(best)}"
    yield Finding(
        f"exposure.{side}",
        Severity.STOP if facts.budget.verdict is Balance.RUINED else Severity.CAUTION,
        f"{n.format_stops(error)} {side}",
        f"The budget comes to {n.format_signed(error)} stops{short}",
        error, "stops", offered or fx.more_light(facts, error),
    )  # fmt: skip


def shutter_and_frame(facts: Facts) -> Iterator[Finding]:
    """A shutter cannot stay open longer than a frame lasts."""
    setup = facts.setup
    if setup.single_frame or setup.time_s * rate_fps(setup.frame_rate) <= 1.001:
        return
    ways = [fx.fix_to(facts, "shutter", o) for o in _longest_first(facts)[:1]]
    slower = [o for o in facts.offers["frame_rate"].options if setup.time_s * o.value <= 1.001]
    if slower and setup.shutter.time_s is not None:
        ways.append(fx.fix_to(facts, "frame_rate", max(slower, key=lambda o: float(o.value))))
    if not ways:
        ways = _slower_rate(facts)
    frame = n.format_time(1 / setup.frame_rate)
    yield Finding(
        "shutter.longer_than_frame", Severity.STOP, "Shutter longer than the frame",
        f"{n.format_time(setup.time_s)} does not fit into a frame of {frame}",
        setup.time_s, "s", tuple(ways),
    )  # fmt: skip


def _slower_rate(facts: Facts) -> list[Fix]:
    """Where no shutter is fast enough for this rate: the body's next rate, and one for it."""
    below = [o for o in facts.offers["frame_rate"].options if o.value <= facts.setup.frame_rate]
    for rate in reversed(below or list(facts.offers["frame_rate"].options)[:1]):
        slower = with_setting(facts.setup, "frame_rate", rate.value)
        options = shutter_offer(slower).options
        if options:
            longest = max(options, key=lambda o: float(o.value.seconds(rate.value)))
            return [at_rate(facts, rate, longest)]
    return []


def _longest_first(facts: Facts) -> list[Option]:
    rate = facts.setup.frame_rate
    return sorted(facts.offers["shutter"].options, key=lambda o: -float(o.value.seconds(rate)))


def gear_lacks(facts: Facts) -> Iterator[Finding]:
    """A setting the chosen body, lens or glass does not have."""
    setup = facts.setup
    owners = {
        "frame_rate": setup.body.name, "shutter": setup.body.name, "iris": setup.lens.name,
        "iso": setup.body.name, "nd": "your glass",
    }  # fmt: skip
    for name, owner in owners.items():
        offer = facts.offers[name]
        if not offer.lacks_present or not offer.options or _passes_anyway(facts, name):
            continue
        at = offer.insert_at
        near = offer.options[max(0, at - 1) : at + 1]
        yield Finding(
            f"{name}.gear_lacks", Severity.STOP,
            f"{owner[0].upper()}{owner[1:]} cannot do this {_word(name)}",
            f"{_present(facts, name)} is not on its scale; the nearest is "
            + " or ".join(fx.label_of(name, o) for o in near),
            float(setup.time_s if name == "shutter" else _plain(facts, name)),
            {"frame_rate": "fps", "shutter": "s", "nd": "density"}.get(name, ""),
            tuple(fx.fix_to(facts, name, option) for option in near),
        )  # fmt: skip
    if not setup.body.takes(setup.lens):
        yield _wrong_mount(setup)
    short, long = setup.lens.focal_shortest_mm, setup.lens.focal_longest_mm
    if not short * 0.999 <= setup.focal_mm <= long * 1.001:
        nearest = short if setup.focal_mm < short else long
        text = f"{n.format_number(nearest)} mm"
        yield Finding(
            "focal.lens_lacks", Severity.STOP, f"{setup.lens.name} has no such focal length",
            f"{n.format_number(setup.focal_mm)} mm lies outside "
            f"{n.format_number(short)} to {n.format_number(long)} mm",
            setup.focal_mm, "mm", (Fix(text, (Change("focal", text),), 0.0),),
        )  # fmt: skip


def _wrong_mount(setup: Setup) -> Finding:
    fitting = [lens.name for lens in setup.bag_lenses if setup.body.takes(lens)]
    ways = tuple(Fix(name, (Change("lens", name),), 0.0) for name in fitting[:3])
    choose = Fix("let the planner choose a lens", (Change("held_lens", "0"),), 0.0)
    return Finding(
        "lens.wrong_mount", Severity.STOP, f"{setup.lens.name} does not go on {setup.body.name}",
        f"Its mount is {setup.lens.mount}, the body's is {setup.body.mount}; "
        f"{len(fitting) or 'none'} of the lenses to choose from fit",
        float(len(fitting)), "lenses", ways or (choose,),
    )  # fmt: skip


def profile(facts: Facts) -> Iterator[Finding]:
    """A profile the chosen body does not record."""
    setup = facts.setup
    names = setup.body.profiles
    if not names or setup.profile.name in names:
        return
    yield Finding(
        "profile.body_lacks", Severity.STOP, f"{setup.body.name} does not record this profile",
        f"{setup.profile.name} is none of its {len(names)}: {', '.join(names)}",
        float(len(names)), "profiles",
        tuple(Fix(name, (Change("profile", name),), 0.0) for name in names[:3]),
    )  # fmt: skip


def limits(facts: Facts) -> Iterator[Finding]:
    """A setting outside the limits the person set for it."""
    setup = facts.setup
    for limit in setup.limits:
        name = limit.setting
        if name not in facts.offers:
            continue
        size = (lambda o: o.value.seconds(setup.frame_rate)) if name == "shutter" else (
            lambda o: float(o.value))  # fmt: skip
        value = setup.time_s if name == "shutter" else _plain(facts, name)
        if limit.holds(value):
            continue
        inside = [o for o in facts.offers[name].options if limit.holds(size(o))]
        ways = [fx.rebalanced(facts, name, min(inside, key=lambda o: abs(size(o) - value)))
                ] if inside else []  # fmt: skip
        ways.append(Fix("lift the limits", (Change(f"limit_{name}", ""),), 0.0))
        yield Finding(
            f"{name}.outside_limits", Severity.CAUTION,
            f"{_present(facts, name)} is outside your limits",
            f"Held within {format_limit(setup, limit)}",
            value, {"shutter": "s", "frame_rate": "fps"}.get(name, ""), tuple(ways),
        )  # fmt: skip


def recording(facts: Facts) -> Iterator[Finding]:
    """A recording format the chosen body does not have."""
    setup = facts.setup
    names = [f.name for f in setup.body.formats]
    if not setup.recording or setup.recording in names:
        return
    yield Finding(
        "recording.body_lacks", Severity.STOP, f"{setup.body.name} has no such recording format",
        f"{setup.recording} is none of its {len(names)}: {', '.join(names[:4])}",
        float(len(names)), "formats",
        tuple(Fix(name, (Change("recording", name),), 0.0) for name in names[:3]),
    )  # fmt: skip


def _plain(facts: Facts, name: str) -> float:
    setup = facts.setup
    return float(setup.nd_density if name == "nd" else getattr(setup, name))


def _word(name: str) -> str:
    return {"frame_rate": "frame rate", "iso": "ISO", "nd": "ND"}.get(name, name)


def _present(facts: Facts, name: str) -> str:
    setup = facts.setup
    return {
        "frame_rate": n.format_frame_rate(setup.frame_rate),
        "shutter": n.format_shutter(setup.shutter),
        "iris": n.format_iris(setup.iris),
        "iso": f"ISO {setup.iso}",
        "nd": f"ND {n.format_density(setup.nd_density)}",
    }[name]


def _passes_anyway(facts: Facts, name: str) -> bool:
    """Stepless rings and timers, and what another finding already says."""
    setup = facts.setup
    match name:
        case "iris":
            widest = setup.lens.widest_at(setup.focal_mm)
            return widest * 0.999 <= setup.iris <= setup.lens.smallest_f * 1.001
        case "frame_rate":
            return setup.single_frame or (setup.kind is Kind.INTERVAL and setup.frame_rate <= 1)
        case "shutter":
            return is_bulb(setup) or any(f for f in shutter_and_frame(facts))
    return False


def iso(facts: Facts) -> Iterator[Finding]:
    """The person's ceiling, and the noisy steps just under an upper base."""
    setup = facts.setup
    ceiling = setup.body.iso_ceiling
    under = [o for o in facts.offers["iso"].options if o.value <= ceiling]
    if setup.iso > ceiling and under:
        over = fx.price_stops(setup, "iso", ceiling)
        yield Finding(
            "iso.above_ceiling", Severity.CAUTION, f"Noisier than your limit, ISO {ceiling}",
            f"ISO {setup.iso} is {n.format_stops(over)} above it",
            -over, "stops", (fx.rebalanced(facts, "iso", under[-1]),),
        )  # fmt: skip
    bases = sorted(setup.profile.base_iso)
    if (
        len(bases) < 2
        or fx.gain_stops(setup, "iso", bases[-1]) - fx.gain_stops(setup, "iso", bases[0])
        < c.BASE_PAIR_APART_STOPS
    ):
        return  # fmt: skip
    below = fx.price_stops(setup, "iso", bases[-1])
    at_base = [o for o in under if o.value == bases[-1]]
    if 0 < below <= c.UPPER_BASE_SHADOW_STOPS and at_base:
        yield Finding(
            "iso.below_upper_base", Severity.CAUTION, f"ISO {bases[-1]} is cleaner than this",
            f"ISO {setup.iso} lies {n.format_stops(below)} under the upper base of "
            f"{setup.profile.name}, where the lower one is at its noisiest",
            below, "stops", (fx.rebalanced(facts, "iso", at_base[0]),),
        )  # fmt: skip


def glass(facts: Facts) -> Iterator[Finding]:
    """Strong or stacked neutral density."""
    setup, stack = facts.setup, facts.stack
    if stack is None:
        return
    weaker = [o for o in facts.offers["nd"].options
              if fx.gain_of(setup, "nd", o) > -(c.INFRARED_FROM_STOPS - 0.05)]  # fmt: skip
    if stack.stops >= c.INFRARED_FROM_STOPS - 0.05 and weaker:
        yield Finding(
            "nd.infrared", Severity.CAUTION, "Brown blacks, unless the glass cuts infrared",
            f"ND {n.format_density(stack.density)} takes {n.format_stops(stack.stops)} of "
            "visible light but lets infrared through",
            stack.stops, "stops", (fx.rebalanced(facts, "nd", weaker[-1]),),
        )  # fmt: skip
    wide = equivalent_focal_mm(setup)
    single = [s.density for s in facts.stacks if len(s.pieces) <= 1]
    if len(stack.pieces) > 1 and wide < c.STACK_VIGNETTE_BELOW_MM:
        nearest = min(single, key=lambda density: abs(density - stack.density))
        option = next(o for o in facts.offers["nd"].options if o.value == nearest)
        yield Finding(
            "nd.stack_vignettes", Severity.CAUTION, "Stacked filters may darken the corners",
            f"{len(stack.pieces)} filters in front of {n.format_number(wide, 0)} mm (full-frame "
            f"equivalent); under {c.STACK_VIGNETTE_BELOW_MM:.0f} mm keep to one",
            float(len(stack.pieces)), "filters", (fx.rebalanced(facts, "nd", option),),
        )  # fmt: skip


def speed(facts: Facts) -> Iterator[Finding]:
    """A frame rate that does not do what the kind of shot is for."""
    setup, clip = facts.setup, facts.clip
    rates = facts.offers["frame_rate"].options
    if setup.records_stills:
        return
    slow = setup.kind is Kind.SLOW_MOTION
    if clip.speed_percent <= (99.9 if slow else 100.1):
        return
    wanted = [o for o in rates if (o.value > setup.project_fps * 1.001 if slow
                                   else o.value >= setup.project_fps * 0.999)]  # fmt: skip
    ways = [fx.rebalanced(facts, "frame_rate", wanted[0])] if wanted else []
    if not ways and slow:
        ways = [Fix("make it real time", (Change("kind", "real_time"),), 0.0)]
    what = "No slow motion at this frame rate" if slow else "Plays faster than life"
    yield Finding(
        "clip.not_slow" if slow else "clip.sped_up", Severity.CAUTION, what,
        f"{n.format_frame_rate(setup.frame_rate)} fps plays at "
        f"{n.format_number(clip.speed_percent)} % in a {n.format_frame_rate(setup.project_fps)} "
        "fps edit",
        clip.speed_percent, "%", tuple(ways) or _edit_length(facts, clip.event_s),
    )  # fmt: skip


def _edit_length(facts: Facts, seconds: float) -> tuple[Fix, ...]:
    text = f"{n.format_number(max(seconds, c.SCREEN_RANGE_S[0]), 2)} s"
    return (Fix(f"plan {text} on screen", (Change("wanted_screen", text),), 0.0),)


def card(facts: Facts) -> Iterator[Finding]:
    """A take that does not fit on one card."""
    clip = facts.clip
    if clip.takes_per_card > 0 or facts.setup.kind is Kind.INTERVAL:
        return
    yield Finding(
        "clip.card_full", Severity.STOP, "One take does not fit on a card",
        f"{n.format_number(clip.size_mb / 1000)} GB on a card of "
        f"{n.format_number(clip.card_gb, 0)} GB",
        clip.size_mb / 1000, "GB", _card_fixes(facts, clip),
    )  # fmt: skip


def _card_fixes(facts: Facts, clip: Clip) -> tuple[Fix, ...]:
    per_second = clip.size_mb / clip.record_s if clip.record_s else inf
    fits = 1000 * clip.card_gb / per_second
    stretch = clip.screen_s / clip.event_s
    screen = floor(10 * (fits - 2 * clip.handle_s) * stretch * 0.99) / 10
    if screen >= c.SCREEN_RANGE_S[0]:
        text = f"{n.format_number(screen)} s"
        return (Fix(f"plan {text} on screen", (Change("wanted_screen", text),), 0.0),)
    text = f"{n.format_number(max(floor(10 * fits * stretch * 0.99) / 10, 0.1))} s"
    changes = (Change("handle", "0 s"), Change("wanted_screen", text))
    return (Fix(f"no handles, {text} on screen", changes, 0.0),)


CHECKS: tuple[Callable[[Facts], Iterator[Finding]], ...] = (
    shutter_and_frame, gear_lacks, profile, recording, limits, exposure, toned.key_clips,
    toned.readings_clip, moving.flicker,
    moving.strobing, moving.smear, moving.lean, moving.hand, focused.reach, focused.depth,
    focused.diffraction, iso, toned.noise, toned.drowned, toned.bands,
    toned.white_off, toned.mixed_light, glass, speed, card, *running.CHECKS, *still.CHECKS,
)  # fmt: skip


def all_findings(facts: Facts) -> tuple[Finding, ...]:
    """Every finding, those that ruin the take first."""
    found = [finding for check in CHECKS for finding in check(facts)]
    return tuple(sorted(found, key=lambda finding: finding.severity is not Severity.STOP))

"""Exercises for the eye: which one, will it, name the danger, hold or float."""

from collections.abc import Callable
from dataclasses import replace
from random import Random
from typing import Any

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.drill.answers import OneOf, Option, SomeOf
from fotonomy.core.drill.exercise import Asked, Cut, Exercise
from fotonomy.core.drill.kinds.balance import MOST_TRIES, facts_of
from fotonomy.core.drill.scenes import (
    SCENES,
    balanced,
    error_of,
    in_balance,
    offers_of,
    pick,
    setup_of,
)
from fotonomy.core.findings import exposure
from fotonomy.core.findings.checks import all_findings
from fotonomy.core.findings.finding import Finding
from fotonomy.core.findings.motion import LEAN_SEEN_FROM_DEG
from fotonomy.core.kinds import rules_of
from fotonomy.core.motion.cadence import COMFORTABLE_GAP_PERCENT, STROBING_GAP_PERCENT
from fotonomy.core.motion.flicker import FLICKER_SAFE_RIPPLE
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.exposure_value import Ev100, ev100_of
from fotonomy.core.photometry.stops import aperture_stops, iso_stops, time_stops
from fotonomy.core.planner.exposure_modes import CONSTANT_WITHIN_STOPS, mode_advice
from fotonomy.core.spec.readings import Reading
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile

# How far apart two pictures are, by level, in stops.
_APART = {1: (2.0, 4.0), 2: (1.3, 2.2), 3: (0.9, 1.4)}


def _slower(one: Setup, other: Setup) -> float:
    return time_stops(other.time_s) - time_stops(one.time_s)


_QUESTIONS: dict[str, tuple[str, Tile, str, Callable[[Setup, Setup], float]]] = {
    "shutter": (
        "Which has the slower shutter?",
        Tile.MOTION,
        "The longer it is open, the longer the smear.",
        _slower,
    ),
    "iris": (
        "Which has the wider iris?",
        Tile.FOCUS,
        "The wider the iris, the thinner the sharp part and the softer the background.",
        lambda a, b: aperture_stops(b.iris) - aperture_stops(a.iris),
    ),
    "iso": (
        "Which has the higher ISO?",
        Tile.NOISE,
        "The higher the ISO, the nearer the shadows are to the noise.",
        lambda a, b: iso_stops(a.iso) - iso_stops(b.iso),
    ),
    "frame_rate": (
        "Which has the higher frame rate?",
        Tile.MOTION,
        "The higher the rate, the smaller the step from frame to frame.",
        lambda a, b: a.frame_rate / b.frame_rate - 1,
    ),
}


def which_one(asked: Asked, random: Random, own: Setup | None = None) -> Exercise:
    """Two drawings of one scene that differ in one setting, with another that pays for it."""
    level = asked.level
    low, high = _APART[level]
    for _ in range(MOST_TRIES):
        scene = pick(random, [one for one in SCENES if one.speed_m_s > 0.15])
        base = own or setup_of(scene)
        setting = random.choice(tuple(_QUESTIONS))
        ask, tile, because, more = _QUESTIONS[setting]
        one = _varied(base, random)
        two = replace(one, **{setting: getattr(_varied(base, random), setting)})
        if setting == "frame_rate":
            # At the same shutter time, so that the step alone tells.
            one, two = (replace(s, shutter=Shutter(time_s=1 / 250)) for s in (one, two))
            if not 0.6 / level <= abs(more(one, two)) <= 4:
                continue
        elif not low <= abs(more(one, two)) <= high:
            continue
        still = one.subject_speed_m_s < 0.15
        if still and setting in ("shutter", "frame_rate"):
            continue
        # Each in a light of its own, so that no picture is darker than the other.
        one, two = in_balance(one), in_balance(two)
        pair = (one, two)
        right = 0 if more(one, two) > 0 else 1
        options = (Option("left", "the left one"), Option("right", "the right one"))
        # Frames instead of drawings, where the eye can tell them apart.
        cut = _cut_of(setting, one, two) if random.random() < _PICTURED else None
        return Exercise(
            asked=asked,
            ask=ask,
            facts=(base.title,),
            cut=cut,
            answer=OneOf(options, options[right].key),
            scene_setup=one,
            right=pair[right],
            setups=pair,
            tiles=(tile,),
            why=f"{because} Left: {_value(setting, one)}; right: {_value(setting, two)}.",
            workings=_SHOWN[setting],
        )
    raise LookupError("no such pair")


# How often frames are shown where they tell; what the eye tells of a cut, in delivered pixels; the
# ISO from which lifted shadows show their grain. Common practice, no source.
_PICTURED = 0.7
_SEEN_PX, _APART_PX = 5.0, 4.0
_GRAIN_FROM_ISO = 800


def _cut_of(asked: str, one: Setup, two: Setup) -> Cut | None:
    """The cut of two frames that tells them apart; None where the eye would not."""
    if asked == "iso":
        return Cut.SHADOWS if max(one.iso, two.iso) >= _GRAIN_FROM_ISO else None
    found = [analyse(setup) for setup in (one, two)]
    if asked == "shutter":
        sizes = [each.motion.smear_percent for each in found]
    elif asked == "iris":
        sizes = [each.focus.background_blur_percent for each in found]
    else:
        return None
    small, large = sorted(percent / 100 * one.delivered_px for percent in sizes)
    return Cut.MOVING if large >= _SEEN_PX and large - small >= _APART_PX else None


_SHOWN = {
    "shutter": ("motion.smear_percent", "setup.time_s"),
    "iris": ("focus.depth_m",),
    "iso": ("noise.looks_like_iso",),
    "frame_rate": ("motion.step_percent",),
}


def _value(name: str, setup: Setup) -> str:
    return {
        "shutter": n.format_shutter(setup.shutter),
        "iris": n.format_iris(setup.iris),
        "iso": f"ISO {setup.iso}",
        "frame_rate": f"{n.format_frame_rate(setup.frame_rate)} fps",
    }[name]


def _varied(base: Setup, random: Random) -> Setup:
    return replace(
        base,
        frame_rate=random.choice((25, 50, 100)),
        iris=random.choice((2.0, 2.8, 4.0, 5.6, 8.0, 11.0)),
        iso=random.choice((100, 200, 400, 800, 1600, 3200, 6400)),
        shutter=Shutter(time_s=random.choice((1 / 100, 1 / 200, 1 / 400, 1 / 800, 1 / 1600))),
    )


# How far from the limit a judgement has to be, by level: nearer is harder.
_CLEAR = {1: 2.0, 2: 1.5, 3: 1.25}


def will_it(asked: Asked, random: Random, own: Setup | None = None) -> Exercise:
    """Will it strobe, lean or flicker: yes or no, never on the edge."""
    level = asked.level
    for _ in range(10 * MOST_TRIES):
        scene = pick(random, [one for one in SCENES if one.speed_m_s > 0.15])
        base = own or setup_of(scene)
        what = random.choice(("strobe", "flicker", "lean"))
        setup = replace(
            base,
            frame_rate=random.choice((24, 25, 50, 100)),
            mains_hz=random.choice((50, 60)),
            shutter=Shutter(angle_deg=random.choice((45, 90, 144, 172.8, 180, 270, 360))),
            subject_speed_m_s=base.subject_speed_m_s * random.choice((0.4, 1.0, 2.0, 4.0)),
            subject_distance_m=max(1.0, base.subject_distance_m * random.choice((0.6, 1.0, 2.0))),
            mains_lamps=what == "flicker",
        )
        found = _judged(what, analyse(setup))
        if found is None:
            continue
        times, because, shown = found
        clear = _CLEAR[level]
        if 1 / clear < times < clear or (level == 3 and not 0.2 < times < 5):
            continue
        facts = [
            scene.words if own is None else own.title,
            *facts_of(setup, ("light", "iris", "iso", "nd_density")),
        ]
        if what == "flicker":
            facts.append(f"lamps on {setup.mains_hz} Hz mains")
        else:
            facts += [
                f"{setup.subject} at {n.format_number(setup.subject_speed_m_s)} m/s, "
                f"{n.format_number(setup.subject_distance_m)} m away, "
                f"{n.format_number(setup.focal_mm, 0)} mm",
            ]
        ask = {
            "strobe": "Will it strobe?",
            "flicker": "Will the lamps flicker?",
            "lean": "Will uprights be seen to lean?",
        }[what]
        return Exercise(
            asked=asked,
            ask=ask,
            facts=tuple(facts),
            answer=OneOf((Option("yes", "yes"), Option("no", "no")), "yes" if times > 1 else "no"),
            scene_setup=setup,
            right=setup,
            setups=(setup,),
            tiles=(Tile.MOTION,),
            why=because,
            workings=shown,
        )
    raise LookupError("nothing clear enough")


def _judged(what: str, analysis: Analysis) -> tuple[float, str, tuple[str, ...]] | None:
    """How many times over its limit it is, why, and the numbers that show it."""
    moved = analysis.motion
    if what == "flicker":
        ripple = analysis.flicker.ripple
        return (
            max(ripple, 1e-3) / FLICKER_SAFE_RIPPLE,
            (
                f"{n.format_number(100 * ripple)} % of the lamps' ripple is left; up to "
                f"{n.format_number(100 * FLICKER_SAFE_RIPPLE, 0)} % is not seen"
            ),
            ("flicker.ripple", "setup.time_s"),
        )
    if what == "lean":
        lean = analysis.shake.lean_deg
        if lean is None:
            return None
        return (
            max(lean, 1e-3) / LEAN_SEEN_FROM_DEG,
            (
                f"It leans {n.format_number(lean)}°; from "
                f"{n.format_number(LEAN_SEEN_FROM_DEG)}° on it "
                "is seen"
            ),
            ("shake.lean_deg",),
        )
    if moved.gap_percent is None or moved.crossing_s is None:
        return None
    limit = moved.comfortable_gap_percent * STROBING_GAP_PERCENT / COMFORTABLE_GAP_PERCENT
    return (
        max(moved.gap_percent, 1e-3) / limit,
        (
            f"The gap is {n.format_number(moved.gap_percent, 2)} % of the width; from "
            f"{n.format_number(limit, 2)} % on it strobes here"
        ),
        ("motion.gap_percent", "motion.comfortable_gap_percent"),
    )


# Ways to ruin a good setup, each with the finding it brings and how one would call it.
_DANGERS: dict[str, tuple[str, Callable[[Setup, Random], Any]]] = {
    "flicker.mains": (
        "The lamps flicker",
        lambda s, r: {
            "mains_lamps": True,
            "shutter": Shutter(time_s=r.choice((1 / 160, 1 / 320, 1 / 125))),
        },
    ),
    "focus.thinner_than_subject": (
        "Not all of the subject is sharp",
        lambda s, r: {
            "subject_distance_m": 0.8,
            "focal_mm": 85,
            "iris": 1.8,
            "subject_depth_m": 0.4,
        },
    ),
    "iso.above_ceiling": (
        "Noisier than you allow yourself",
        lambda s, r: {"iso": r.choice((12_800, 25_600))},
    ),
    "level.reading_clips": (
        "A bright thing clips",
        lambda s, r: {
            "readings": (*s.readings, Reading(name="window", stops=r.choice((4.5, 5.5))))
        },
    ),
    "white.off": (
        "The colour is off",
        lambda s, r: {"source_k": r.choice((3200.0, 2700.0)), "white_k": 5600.0},
    ),
    "motion.strobing": (
        "It strobes",
        lambda s, r: {
            "subject_speed_m_s": 30.0,
            "subject_distance_m": 12.0,
            "shutter": Shutter(angle_deg=45),
        },
    ),
    "exposure": ("The picture is too dark or too bright", lambda s, r: {}),
    "clip.card_full": (
        "The card is full before the end",
        lambda s, r: {"wanted_screen_s": 12_000.0},
    ),
}


def dangers_in(setup: Setup) -> set[str]:
    """Which of the named dangers the findings of a setup hold."""
    found = all_findings(analyse(setup), rules_of(setup).checks)
    return {_danger(one) for one in found} & set(_DANGERS)


def _danger(finding: Finding) -> str:
    """The danger a finding is of: too bright and too dark are one."""
    return "exposure" if finding.family in exposure.OFF_BALANCE else finding.id


def name_the_danger(asked: Asked, random: Random, own: Setup | None = None) -> Exercise:
    """A good setup with one, two or three things wrong; find them before the findings do."""
    level = asked.level
    for _ in range(MOST_TRIES):
        scene = pick(random, [one for one in SCENES if one.light_ev >= 7])
        base = own or balanced(setup_of(scene, mains_lamps=False), random)
        if base is None:
            continue
        if own is None and dangers_in(base):
            continue
        wrong = (
            [] if own is not None else random.sample(sorted(set(_DANGERS) - {"exposure"}), level)
        )
        ruined = base
        try:
            for key in wrong:
                ruined = replace(ruined, **_DANGERS[key][1](ruined, random))
            if own is None:
                ruined = _rebalanced(ruined, random)
        except (ValueError, LookupError):
            continue
        found = dangers_in(ruined)
        if not found or (own is None and found != set(wrong)) or len(found) == len(_DANGERS):
            if own is not None:
                break
            continue
        others = sorted(set(_DANGERS) - found)
        shown = sorted({*found, *random.sample(others, min(len(others), 5 - min(len(found), 3)))})
        random.shuffle(shown)
        options = tuple(Option(key, _DANGERS[key][0]) for key in shown)
        why = ". ".join(
            f"{one.what}: {one.why}"
            for one in all_findings(analyse(ruined), rules_of(ruined).checks)
            if _danger(one) in found
        )
        many = {1: "One thing", 2: "Two things", 3: "Three things"}.get(len(found), "Something")
        return Exercise(
            asked=asked,
            ask=f"{many} will ruin this take. What?",
            facts=(base.title, *facts_of(ruined), *_more_facts(ruined)),
            answer=SomeOf(options, frozenset(found)),
            scene_setup=ruined,
            right=ruined,
            setups=(ruined,),
            tiles=(Tile.LIGHT, Tile.MOTION),
            why=why,
            workings=("budget.error_stops", "motion.gap_percent"),
        )
    raise LookupError("nothing to be found here")


def _rebalanced(setup: Setup, random: Random) -> Setup:
    """The light put right by ND and iris alone, so that what was ruined stays."""
    best = min(
        (replace(setup, nd_density=o.value) for o in offers_of(setup)["nd_density"].options),
        key=lambda one: abs(error_of(one)),
    )
    off = error_of(best)
    if abs(off) <= 0.17:
        return best
    # The scene is as bright as the settings ask: what is wrong here is not the light.
    return replace(best, light=Ev100(round(ev100_of(best.light) - off, 2)))


def _more_facts(setup: Setup) -> tuple[str, ...]:
    facts = [
        f"{setup.subject} at {n.format_number(setup.subject_speed_m_s)} m/s, "
        f"{n.format_number(setup.subject_distance_m)} m away, "
        f"{n.format_number(setup.focal_mm, 0)} mm",
        f"white {n.format_number(setup.white_k, 0)} K"
        + (
            ""
            if setup.source_k is None
            else f", the light is {n.format_number(setup.source_k, 0)} K"
        ),
        f"{n.format_duration(setup.wanted_screen_s)} on screen, "
        f"card {n.format_number(setup.body.card_gb, 0)} GB",
        f"your ISO ceiling {setup.body.iso_ceiling}",
    ]
    if setup.mains_lamps:
        facts.append(f"lamps on {setup.mains_hz} Hz mains")
    facts += [f"{one.name} {n.format_signed(one.stops)} stops from grey" for one in setup.readings]
    return tuple(facts)


def hold_or_float(asked: Asked, random: Random, own: Setup | None = None) -> Exercise:
    """What to leave to the camera: nothing, or the one value that may float."""
    level = asked.level
    for _ in range(MOST_TRIES):
        scene = pick(random)
        base = own or balanced(setup_of(scene), random)
        if base is None:
            continue
        still = random.random() < 0.4
        change = random.choice((0.0, 0.2, 1.0, 1.5, 2.0, 3.0))
        setup = replace(
            base,
            light_change_stops=change,
            subject_speed_m_s=0.0 if still and own is None else base.subject_speed_m_s,
        )
        advice = mode_advice(analyse(setup))
        choices = ["Everything by hand", *(one.label for one in advice.auto_ranges)]
        if level > 1:
            choices.append("By hand, in steps")
        if advice.choice not in choices or abs(change - CONSTANT_WITHIN_STOPS) < 0.05:
            continue
        options = tuple(Option(str(k), words) for k, words in enumerate(choices))
        moving = setup.subject_speed_m_s > 0.01
        return Exercise(
            asked=asked,
            ask="What do you hold, and what may float?",
            facts=(
                base.title if own else scene.words,
                f"the subject, {setup.subject}, {'moves' if moving else 'stands still'}",
                "the light stays"
                if change == 0
                else f"the light may move by {n.format_stops(change)}",
                *facts_of(setup, ("light",)),
                f"your ISO ceiling {setup.body.iso_ceiling}",
            ),
            answer=OneOf(options, str(choices.index(advice.choice))),
            scene_setup=setup,
            right=setup,
            setups=(setup,),
            why=f"{advice.choice}: {advice.why}.",
            workings=("budget.ev100", "budget.error_stops"),
        )
    raise LookupError("nothing clear enough")

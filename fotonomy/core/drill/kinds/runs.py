"""Exercises about hours alone: interval for that, points or trails, spot the program."""

from dataclasses import replace
from random import Random
from typing import Any

from fotonomy.core.analysis.interval import IntervalRun, each_mb, worked_out
from fotonomy.core.analysis.setup import analyse
from fotonomy.core.drill.answers import Amount, OneOf, Option
from fotonomy.core.drill.exercise import Asked, Exercise
from fotonomy.core.drill.kinds.balance import MOST_TRIES
from fotonomy.core.drill.scenes import CARD, CELL, REMOTE, SCENES, setup_of
from fotonomy.core.findings.checks import all_findings
from fotonomy.core.gear.accessories import Battery, Card, Remote
from fotonomy.core.kinds import rules_of
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Follows, Run
from fotonomy.core.stills.interval import third
from fotonomy.core.tiles import Tile

_EVENTS = (
    ("a sunset", 2400.0),
    ("the tide coming in", 7200.0),
    ("clouds over a hill", 1800.0),
    ("people crossing a square", 600.0),
    ("a market being set up", 5400.0),
    ("stars over a barn", 14_400.0),
)


def run_of(own: Setup | None = None, **changes: Any) -> Setup:
    """An interval run on the practice camera."""
    base: dict[str, Any] = {
        "kind": Kind.INTERVAL,
        "frame_rate": 1 / 6,
        "shutter": Shutter(time_s=0.5),
        "iris": 8.0,
        "iso": 100,
        "light": Ev100(8.0),
        "handle_s": 0.0,
        "wanted_screen_s": 10.0,
        "devices": (REMOTE, CARD, CELL),
        "mains_lamps": False,
    }
    if own is not None:
        return replace(own, **changes)
    return setup_of(SCENES[5], **{**base, **changes})


def _asked(random: Random, own: Setup | None) -> tuple[str, float, float]:
    """Something that takes a while, in words and seconds, and how long it shall be on screen."""
    words, event = random.choice(_EVENTS) if own is None else (own.subject, own.run.event_s)
    event = max(60.0, 60 * round(event * random.choice((0.5, 0.75, 1.0, 1.25, 1.5)) / 60))
    return words, event, float(random.choice((6, 8, 10, 12, 20)))


def interval_for_that(asked: Asked, random: Random, own: Setup | None = None) -> Exercise:
    """Event and clip give the interval, event and interval the frames, frames the card."""
    level = asked.level
    project = 25 if own is None else own.project_fps
    words, event, screen = _asked(random, own)
    edit = f"{n.format_frame_rate(project)} fps"
    for _ in range(MOST_TRIES if level == 1 else 0):
        words, event, screen = _asked(random, own)
        if not 1.5 <= event / (project * screen - 1) <= 120:
            continue
        found = third(
            Follows.INTERVAL, event_s=event, interval_s=1.0, screen_s=screen, project_fps=project
        )
        right = run_of(own, frame_rate=1 / found.interval_s, wanted_screen_s=screen)
        return Exercise(
            asked=asked,
            ask="What interval does it want?",
            facts=(
                f"{words}, {n.format_duration(event)} of it",
                f"{n.format_duration(screen)} on screen at {edit}",
            ),
            answer=Amount(found.interval_s, "s", 0.1, 3600.0, scale="ratio"),
            scene_setup=right,
            right=right,
            tiles=(Tile.RUN,),
            why=f"{found.frames} frames fill {n.format_duration(screen)}; "
            f"{found.frames - 1} spaces between "
            f"them share {n.format_duration(event)}.",
            workings=("run.three.frames", "run.covers_s", "run.three.interval_s"),
        )
    interval = float(random.choice((2, 3, 4, 6, 10, 15)))
    found = third(
        Follows.CLIP, event_s=event, interval_s=interval, screen_s=screen, project_fps=project
    )
    run = Run() if own is None else own.run
    right = worked_out(
        run_of(
            own,
            frame_rate=1 / interval,
            wanted_screen_s=found.screen_s,
            run=replace(run, follows=Follows.CLIP, event_s=event),
        )
    )
    analysis = analyse(right)
    assert isinstance(analysis.run, IntervalRun)
    if level == 2:
        return Exercise(
            asked=asked,
            ask="How long is it on screen?",
            facts=(
                f"{words}, {n.format_duration(event)} of it",
                f"a frame every {n.format_duration(interval)}",
                f"played at {edit}",
            ),
            answer=Amount(found.screen_s, "s", 0.1, 7200.0, scale="ratio"),
            scene_setup=right,
            right=right,
            tiles=(Tile.RUN,),
            why=f"{n.format_duration(event)} at {n.format_duration(interval)} are "
            f"{found.frames} frames, the first "
            f"counted too; {n.format_number(project)} of them make a second.",
            workings=("run.three.frames", "clip.screen_s", "run.covers_s"),
        )
    power, works_s = analysis.run.power, analysis.run.cycle.deaf_s + analysis.run.write_s
    body, cell = right.body, _part(right, Battery)
    if power is not None and power.lasts_s is not None and cell and random.random() < 0.4:
        return Exercise(
            asked=asked,
            ask="How long does the battery last?",
            facts=(
                f"a frame every {n.format_duration(interval)}, "
                f"{n.format_number(right.time_s)} s each",
                f"battery of {n.format_number(cell.energy_wh, 0)} Wh, nine tenths of it to be used",
                f"the camera draws {n.format_number(body.power_w or 0, 0)} W at work and "
                f"{n.format_number(body.idle_w or 0)} W waiting",
                f"it works {n.format_number(works_s)} s a frame",
                f"{n.format_number(right.run.temperature_c, 0)} °C",
            ),
            answer=Amount(power.lasts_s, "s", 60.0, 400_000.0, scale="ratio"),
            scene_setup=right,
            right=right,
            tiles=(Tile.CYCLE,),
            why=f"{n.format_duration(analysis.run.lasts_s)} need "
            f"{n.format_number(power.needs_wh)} Wh, and at "
            f"{n.format_number(right.run.temperature_c, 0)} °C the battery gives "
            f"{n.format_number(power.has_wh or 0)} Wh.",
            workings=("run.power.share_left", "run.power.has_wh", "run.power.needs_wh"),
        )
    size, each = analysis.run.size_gb, each_mb(right)
    return Exercise(
        asked=asked,
        ask="How much does it put on the card?",
        facts=(
            f"{words}, {n.format_duration(event)} of it",
            f"a frame every {n.format_duration(interval)}",
            f"files of {n.format_number(each, 0)} MB",
        ),
        answer=Amount(size, "GB", 0.01, 2000.0, scale="ratio"),
        scene_setup=right,
        right=right,
        tiles=(Tile.RUN,),
        why=f"{analysis.run.frames} frames of {n.format_number(each, 0)} MB are "
        f"{n.format_number(size, 1)} GB.",
        workings=("run.size_gb", "run.frames", "derived.file_mb"),
    )


def _part(setup: Setup, sort: type[Any]) -> Any:
    """What of a sort hangs on the camera; None where nothing does."""
    return next((one for one in setup.devices if isinstance(one, sort)), None)


def _under_stars(level: int, time_s: float, random: Random, own: Setup | None) -> Setup:
    """A run under the stars, invented or one's own, open so long."""
    if own is not None:
        return run_of(own, shutter=Shutter(time_s=time_s), frame_rate=1 / 90)
    declination = 0.0 if level == 1 else random.choice((0.0, 30.0, 60.0))
    return run_of(
        focal_mm=random.choice((16, 20, 24, 35, 50, 85)),
        shutter=Shutter(time_s=time_s), frame_rate=1 / 90, iris=2.0, iso=3200,
        light=Ev100(-6.0), subject_speed_m_s=0.0, subject_distance_m=500.0,
        run=Run(declination_deg=declination, star_px=3.0),
    )  # fmt: skip


def stars(asked: Asked, random: Random, own: Setup | None = None) -> Exercise:
    """Points or trails for so long; from level three on the longest time that keeps them points."""
    level = asked.level
    for _ in range(MOST_TRIES):
        time_s = random.choice((2.0, 4.0, 8.0, 15.0, 30.0, 60.0))
        setup = _under_stars(level, time_s, random, own)
        focal, declination, point = (
            setup.focal_mm, setup.run.declination_deg or 0.0, setup.run.star_px,
        )  # fmt: skip
        found = analyse(setup).run
        assert isinstance(found, IntervalRun)
        assert found.stars is not None
        trail, longest = found.stars.trail_px, found.stars.longest_s
        where = (
            "near the equator of the sky"
            if declination == 0
            else f"{abs(declination):g}° from the equator of the sky"
        )
        facts = [
            f"{n.format_number(focal)} mm, {setup.delivered_px} px over a sensor of "
            f"{n.format_number(setup.format.sensor_width_mm)} mm",
            f"stars {where}",
            f"a trail of {n.format_number(point)} px is still a point",
        ]
        why = (
            f"In {n.format_duration(time_s)} they draw {n.format_number(trail)} px; "
            f"{n.format_number(point)} px are drawn in "
            f"{n.format_duration(longest)}."
        )
        shown = ("run.stars.trail_px", "run.stars.longest_s")
        if level == 3:
            right = replace(setup, shutter=Shutter(time_s=longest))
            return Exercise(
                asked=asked,
                ask="How long may it be open at most?",
                facts=tuple(facts),
                answer=Amount(longest, "s", 0.1, 600.0, scale="ratio"),
                scene_setup=setup,
                right=right,
                tiles=(Tile.RAMP,),
                why=why.partition("; ")[2].capitalize(),
                workings=shown,
            )
        clear = 2.2 if level == 1 else 1.5
        if 1 / clear < trail / point < clear:
            continue
        options = (Option("points", "points"), Option("trails", "trails"))
        return Exercise(
            asked=asked,
            ask="Points or trails?",
            facts=(*facts, f"open for {n.format_duration(time_s)}"),
            answer=OneOf(options, "trails" if trail > point else "points"),
            scene_setup=setup,
            right=setup,
            tiles=(Tile.RAMP,),
            why=why,
            workings=shown,
        )
    raise LookupError("nothing clear enough")


# What may be wrong with a program, by its finding: in words, and how it is made so.
_FAULTS: dict[str, str] = {
    "run.cycle_too_long": "A frame is not written when the next one is due",
    "run.one_frame": "The camera takes one frame only",
    "run.iso_auto": "Each frame picks its own ISO",
    "run.card_full": "The card is full before the end",
    "run.power_short": "The battery ends first",
    "run.count_beyond": "The remote stops counting too early",
    "run.interval_rounded": "The remote cannot be set to this interval",
}
_NOTHING = "Nothing: it runs through"


def _broken(fault: str, random: Random, own: Setup | None) -> dict[str, Any]:
    """What has to be changed for a fault, of an invented run or of one's own."""
    devices = (REMOTE, CARD, CELL) if own is None else own.devices

    def other(thing: Any) -> dict[str, Any]:
        rest = tuple(one for one in devices if not isinstance(one, type(thing)))
        return {"devices": (thing, *rest)}

    match fault:
        case "run.cycle_too_long":
            return {
                "frame_rate": 1 / 4,
                "shutter": Shutter(time_s=random.choice((3.9, 3.0))),
                "run": replace(Run() if own is None else own.run, noise_frames=True),
            }
        case "run.card_full":
            return other(Card(name="Practice card", size_gb=4, write_mb_s=50))
        case "run.power_short":
            return other(Battery(name="Practice battery", energy_wh=1.0))
        case "run.count_beyond":
            return other(Remote(name="Old remote", most_count=99, unlimited=False))
        case "run.interval_rounded":
            return {"frame_rate": 1 / 6.5}
    return {}


def spot_the_program(asked: Asked, random: Random, own: Setup | None = None) -> Exercise:
    """A remote's program and what hangs on the camera: find what will go wrong."""
    level = asked.level
    kinds = ("run.cycle_too_long", "run.card_full", "run.power_short", "run.count_beyond")
    for _ in range(MOST_TRIES):
        fault = random.choice(kinds if level == 1 else (*kinds, "run.interval_rounded", ""))
        changes = _broken(fault, random, own)
        usual: dict[str, Any] = {} if own is not None else {
            "wanted_screen_s": float(random.choice((10, 12, 15, 20))),
            "frame_rate": 1 / random.choice((5, 6, 8, 10)),
            "shutter": Shutter(time_s=random.choice((0.25, 0.5, 1.0))),
        }  # fmt: skip
        setup = run_of(own, **{**usual, **changes})
        if not all(_part(setup, sort) for sort in (Remote, Card, Battery)):
            raise LookupError("no program without a remote, a card and a battery")
        found = all_findings(analyse(setup), rules_of(setup).checks)
        hit = {key for key in _FAULTS if any(one.id == key for one in found)}
        if hit != ({fault} if fault else set()):
            continue
        run = analyse(setup).run
        assert isinstance(run, IntervalRun)
        others = random.sample(sorted(set(_FAULTS) - {fault}), 3 if level == 1 else 4)
        keys = [*others, fault or "none"] if fault else [*others, "none"]
        if fault and level > 1:
            keys.append("none")
        random.shuffle(keys)
        options = tuple(Option(key, _FAULTS.get(key, _NOTHING)) for key in keys)
        why = next(
            (f"{one.what}: {one.why}" for one in found if one.id == fault),
            "Cycle, card, battery and count all fit.",
        )
        return Exercise(
            asked=asked,
            ask="What goes wrong?",
            facts=_program_facts(setup, run),
            answer=OneOf(options, fault or "none"),
            scene_setup=setup,
            right=setup,
            setups=(setup,),
            tiles=(Tile.CYCLE, Tile.RUN),
            why=why + ("" if why.endswith(".") else "."),
            workings=("run.cycle.idle_s", "run.size_gb", "run.power.needs_wh", "run.frames"),
        )
    raise LookupError("no such program")


def _program_facts(setup: Setup, run: IntervalRun) -> tuple[str, ...]:
    cell = next(one for one in setup.devices if isinstance(one, Battery))
    remote = run.remote
    counts = f"counts to {remote.most_count}" + (", or runs unlimited" if remote.unlimited else "")
    return (
        f"a frame every {n.format_number(1 / setup.frame_rate)} s, {run.frames} frames",
        f"{n.format_number(setup.time_s)} s open"
        + (", with a noise frame after each" if setup.run.noise_frames else ""),
        f"files of {n.format_number(each_mb(setup), 0)} MB, written at "
        f"{n.format_number(run.card.write_mb_s or 0, 0)} MB/s",
        f"card of {n.format_number(run.card.size_gb, 0)} GB",
        f"battery of {n.format_number(cell.energy_wh, 0)} Wh, the camera draws "
        f"{n.format_number(setup.body.power_w or 0, 0)} W at work, "
        f"{n.format_number(setup.body.idle_w or 0)} W waiting",
        f"the remote {counts}, in steps of {n.format_number(remote.step_s)} s",
    )

"""The setup in hand on a day: its sun, its light, its weather, and what may be moved."""

from dataclasses import dataclass
from datetime import datetime

from fotonomy.core.day.advice import Verdict, advice
from fotonomy.core.day.almanac import day_of
from fotonomy.core.day.blocks import Block
from fotonomy.core.day.day_plan import minutes_text, span_words
from fotonomy.core.day.direction import LightFrom
from fotonomy.core.day.sun_on_subject import PERSON_M, Look, look_at
from fotonomy.core.day.windows import CannotSayError
from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.exposure_value import ev100_of
from fotonomy.core.sky.light import CLEAR_OKTAS, OVERCAST_OKTAS, PlaceLight
from fotonomy.core.sky.track import Stretch
from fotonomy.core.spec.schedule import Wanted
from fotonomy.days.date_search import next_light
from fotonomy.days.planning import PlannedDay
from fotonomy.days.presenters.linked_numbers import estimate, moved_by, sun_degrees
from fotonomy.days.presenters.weather import source_words, spell_words
from fotonomy.days.reschedule import clock_minutes
from fotonomy.shoots.presenters.working import loose, names_for
from fotonomy.sky.ephemeris import NoSkyError


@dataclass(frozen=True, slots=True)
class AdviceView:
    """What the weather asks for, in a sentence; ``good`` where it is welcome."""

    words: str
    good: bool


@dataclass(frozen=True, slots=True)
class InHand:
    """The setup in hand: when and where it is, its light, and what may be changed."""

    key: int
    name: str
    bench: str
    hour: str
    prepare: str
    minutes: str
    place: int
    day: int
    wants: str
    windows: tuple[str, ...]
    cannot_say: str
    again: str
    weather: str
    advice: tuple[AdviceView, ...]
    light: tuple[str, ...]
    side: str
    side_good: bool
    flare: str
    looks: str
    starts: float | None
    lamps: bool


def in_hand(planned: PlannedDay, block: Block, light: PlaceLight | None, now: datetime) -> InHand:
    row, spec, takes = planned.rows[block.key], planned.specs[block.key], block.takes
    look = None
    if light is not None and takes is not None and light.sky.covers(takes.starts):
        land = row.place.land
        look = look_at(light.sky, land, takes.starts, block.looks_deg, block.field)
    side, good, flare = _side(planned, block, look)
    weather, advised = _weather(planned, block, now)
    return InHand(
        key=block.key, name=block.name, bench=row.get_absolute_url(),
        hour=planned.plan.clock(takes.starts) if takes else "",
        prepare=minutes_text(block.prepare_min) if block.prepare_min else "none",
        minutes=f"{round(block.shoot_min)}", place=block.place, day=planned.day.pk,
        wants=block.wish,
        windows=_windows(planned, block),
        cannot_say=block.cannot_say, again=_again(planned, block),
        weather=weather, advice=advised,
        light=_light_words(planned, block, light, ev100_of(spec.light), spec.light_said),
        side=side, side_good=good, flare=flare, looks=_looks(planned, block, look),
        starts=clock_minutes(takes.starts, planned.midnight) if takes else None,
        lamps=spec.lamps,
    )  # fmt: skip


def _again(planned: PlannedDay, block: Block) -> str:
    """When its light is next there, where this day has none of it."""
    plain = block.schedule.wants in (Wanted.ANY, Wanted.FIXED)
    if block.cannot_say or plain or _windows(planned, block):
        return ""
    return next_words(planned, block.key)


def _weather(
    planned: PlannedDay, block: Block, now: datetime
) -> tuple[str, tuple[AdviceView, ...]]:
    """The weather of a setup's minutes with its source, and what it asks for."""
    spot = planned.plan.spots[block.place]
    if spot.weather is None or block.takes is None or block.exposed is None:
        return "", ()
    spell = spot.weather.spell(block.takes)
    if spell is None:
        return "", ()
    source = source_words(spot.weather.nearest(block.takes.starts), now)
    found = []
    for one in advice(block.exposed, spell):
        first = "" if one.verdict is Verdict.MIND else f"{one.verdict.value}. "
        found.append(
            AdviceView(f"{first}{one.what}: {one.remedy}", one.verdict is Verdict.KEEP)
        )  # fmt: skip
    return f"weather ({source}): {spell_words(spell)}", tuple(found)


def _windows(planned: PlannedDay, block: Block) -> tuple[str, ...]:
    """The hours of its light that belong to this day and its night."""
    if block.schedule.wants is Wanted.ANY:
        return ()
    night = Stretch(planned.midnight, max(planned.plan.hours.ends, day_of(planned.midnight).ends))
    return tuple(span_words(planned.plan, w) for w in block.windows if w.meets(night))


def _looks(planned: PlannedDay, block: Block, look: Look | None) -> str:
    parts = []
    if block.looks_deg is not None:
        parts.append(f"camera looks {round(block.looks_deg)}°")
    if look is not None:
        assert block.takes is not None
        where = sun_degrees(
            planned, planned.rows[block.key].place, look.sun, block.takes.starts
        )  # fmt: skip
        parts.append(f"sun {where}" if look.up else "the sun is down or behind the land")
    return ", ".join(parts)


def _side(planned: PlannedDay, block: Block, look: Look | None) -> tuple[str, bool, str]:
    """The side the sun lights in words, whether it is the one wanted, and flare and shadows."""
    if look is None or not look.up:
        return "", True, ""
    said, good = "", True
    if look.angle is not None:
        off = round(look.angle.off_deg)
        said = look.angle.light.value
        if look.angle.light in (LightFrom.BACK, LightFrom.THREE_QUARTER_BACK):
            led = loose(
                f"{off}°", "sun.off_lens", azimuth_deg=look.sun.azimuth_deg,
                looks_deg=block.looks_deg or 0.0,
            )  # fmt: skip
            said += f", {led} off the lens"
        good = not look.angle.in_picture or block.schedule.wants is Wanted.SUN_BEHIND
    words = []
    if look.in_picture is not None:
        words.append(f"sun in the picture {span_words(planned.plan, look.in_picture)}")
    elif look.flares is not None:
        words.append(f"flare from {span_words(planned.plan, look.flares)}; hood it")
    if look.shadow_m is not None:
        shadow = loose(
            f"{n.format_number(look.shadow_m, 1)} m", "sun.shadow", height_m=PERSON_M,
            altitude_deg=look.sun.altitude_deg,
        )  # fmt: skip
        words.append(f"a person’s shadow is {shadow} long")
    return said, good, "; ".join(words)


def _light_words(
    planned: PlannedDay, block: Block, light: PlaceLight | None, present: float,
    light_is_said: bool,
) -> tuple[str, ...]:  # fmt: skip
    plan = names_for(planned.rows[block.key])
    said = [] if light_is_said else ["its light is not said yet"]
    said.append(f"planned for EV {plan.mark('budget.ev100', n.format_number(present, 1))}")
    if light is None or block.takes is None or not light.sky.covers(block.takes.starts):
        return tuple(said)
    found = light.at(block.takes.starts)
    clear = estimate(found.clear_ev100, found.of, CLEAR_OKTAS)
    cloudy = estimate(found.overcast_ev100, found.of, OVERCAST_OKTAS)
    said.append(f"the sky gives EV {cloudy} overcast to {clear} clear")
    if found.by is not None and abs(found.bent_stops) >= 0.05:
        said.append(
            f"moved by {moved_by(found.bent_stops, found.of, found.plain)} stops: you metered "
            f"{n.format_number(found.by.ev100, 1)} at {planned.plan.clock(found.by.at)}"
        )
    return tuple(said)


def next_words(planned: PlannedDay, key: int) -> str:
    """When a light that this day has none of is next there."""
    try:
        found = next_light(planned, key)
    except (NoSkyError, CannotSayError):
        return ""
    if found is None:
        return "nor on any within a year"
    local = found.starts.astimezone(planned.zone)
    return f"next on {local:%A} {local.day} {local:%B %Y}, {span_words(planned.plan, found)}"

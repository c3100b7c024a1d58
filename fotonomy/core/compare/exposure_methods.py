"""Exposure methods side by side: what each costs on this scene, and which one we would take."""

from dataclasses import dataclass, replace
from math import log2

from fotonomy.core.analysis.setup import model_of
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.intent import ExposureMethod
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tone.placement import Placing, placing
from fotonomy.core.tone.signal_levels import Level, Tone, level

# What a method costs, a stop: highlights that cannot come back, noise beyond the person's
# limit, the subject away from its place in the finished picture, and work in the edit.
# Common practice as we see it, no source.
LOST_WEIGHT, NOISE_WEIGHT, PLACE_WEIGHT, WORK_WEIGHT = 2.0, 1.2, 1.0, 0.15
# Lifting eight bits spreads the steps between their values.
EIGHT_BIT_WEIGHT = 0.4
# Costs this close are as good as each other.
AS_GOOD = 0.12
# Two methods agree within this much.
AGREE_STOPS = 0.17


@dataclass(frozen=True, slots=True)
class MethodOutcome:
    """One method on one scene.

    ``clipped`` are the tones that clip, those that may included; ``lost_stops`` counts the
    others. ``looks_like_iso`` is the reference shadow of the finished picture. ``cost`` is
    the sum the choice goes by, less is better. ``agrees`` names methods that come to the same.
    """

    placing: Placing
    level: Level
    clipped: tuple[Tone, ...]
    lost_stops: float
    looks_like_iso: float
    inside_stops: float
    headroom_left_stops: float
    work: str
    cost: float
    agrees: tuple[ExposureMethod, ...] = ()


@dataclass(frozen=True, slots=True)
class ExposureMethods:
    """All of them, and the one this program would take, with the reason."""

    all: tuple[MethodOutcome, ...]
    chosen: ExposureMethod
    advised: ExposureMethod
    because: str


def compare_methods(setup: Setup) -> ExposureMethods:
    """Every method on this scene, with this profile, at this ISO and each at its own target."""
    limit = float(model_of(setup).looks_like(setup.body.iso_ceiling))
    found = [_method(setup, method, limit) for method in ExposureMethod]
    placed = {s.placing.method: s for s in found if s.placing.applies}
    named = tuple(replace(s, agrees=_agreeing(s, placed)) for s in found)
    advised = _advised(setup, named)
    return ExposureMethods(
        named, setup.intent.exposing, advised.placing.method, _because(advised, named)
    )


def _agreeing(
    method: MethodOutcome, placed: dict[ExposureMethod, MethodOutcome]
) -> tuple[ExposureMethod, ...]:
    if not method.placing.applies:
        return ()
    own = method.placing
    return tuple(
        name
        for name, other in placed.items()
        if name is not own.method
        and abs(other.placing.offset_stops - own.offset_stops) <= AGREE_STOPS
        and abs(other.placing.post_stops - own.post_stops) <= AGREE_STOPS
    )


def _method(setup: Setup, method: ExposureMethod, limit: float) -> MethodOutcome:
    own = placing(method, setup.recorded_profile, setup.readings)
    x, intent = own.offset_stops, setup.intent
    landed = level(setup.recorded_profile, setup.readings, 0.0, x, method)
    shown = float(
        model_of(setup).looks_like(
            setup.iso, -own.post_stops, intent.delivery_px, intent.averaged_frames
        )
    )
    clipped = tuple(tone for tone in landed.tones if tone.clipped_stops > 0)
    lost = sum(tone.clipped_stops for tone in clipped if tone.lost)
    inside = log2(limit / shown)
    tops = [
        tone.placed_stops for tone in landed.tones if tone.reading and not tone.reading.may_clip
    ]
    return MethodOutcome(
        placing=own,
        level=landed,
        clipped=clipped,
        lost_stops=lost,
        looks_like_iso=shown,
        inside_stops=inside,
        headroom_left_stops=landed.headroom_stops - max(tops, default=x),
        work=_work(own),
        cost=_cost(setup, own, landed, lost, inside),
    )


def _work(own: Placing) -> str:
    if own.method is ExposureMethod.DUSK:
        return f"darken {n.format_stops(own.post_stops)}, cool the white balance"
    if abs(own.post_stops) < 0.05:
        return "none"
    verb = "pull down" if own.post_stops < 0 else "lift"
    return f"{verb} {n.format_stops(own.post_stops)}"


def _cost(setup: Setup, own: Placing, landed: Level, lost: float, inside: float) -> float:
    place = 0.0
    key = landed.key
    if key.reading is not None and key.reading.belongs_stops is not None:
        # A little darker than its mark is easily lived with; the miss counts from there.
        miss = abs(key.placed_stops + own.post_stops - key.reading.belongs_stops)
        if own.method is not ExposureMethod.DUSK:
            place = max(0.0, miss - 0.5)
    work = abs(own.post_stops)
    coarse = EIGHT_BIT_WEIGHT * work if setup.recorded_profile.bits <= 8 else 0.0
    return (
        LOST_WEIGHT * lost + NOISE_WEIGHT * max(0.0, -inside) + PLACE_WEIGHT * place
        + WORK_WEIGHT * work + coarse
    )  # fmt: skip


def _advised(setup: Setup, methods: tuple[MethodOutcome, ...]) -> MethodOutcome:
    by_name = {s.placing.method: s for s in methods}
    if setup.kind.traits.darkened:
        return by_name[ExposureMethod.DUSK]
    fitting = [
        s for s in methods
        if s.placing.applies and s.placing.method not in (ExposureMethod.DUSK, ExposureMethod.UNDER)
    ]  # fmt: skip
    best = min(s.cost for s in fitting)
    # Of those as good as the best, the one in force stays; else the plainest.
    good = [s for s in fitting if s.cost <= best + AS_GOOD]
    mine = [s for s in good if s.placing.method is setup.intent.exposing]
    return mine[0] if mine else good[0]


def _because(advised: MethodOutcome, methods: tuple[MethodOutcome, ...]) -> str:
    said = [advised.placing.reason]
    if advised.lost_stops > 0.05:
        said.append(f"gives up {n.format_stops(advised.lost_stops)} of highlights")
    else:
        said.append("nothing that should hold clips")
    side = "inside" if advised.inside_stops >= 0 else "beyond"
    said.append(
        f"shadows look like ISO {n.format_estimate(advised.looks_like_iso)}, "
        f"{n.format_stops(advised.inside_stops)} {side} your limit"
    )
    own = advised.placing.method
    plain = next(s for s in methods if s.placing.method is ExposureMethod.GREY)
    if own is not ExposureMethod.GREY and plain.cost > advised.cost + 0.05:
        if plain.lost_stops > advised.lost_stops + 0.05:
            lost = n.format_stops(plain.lost_stops)
            said.append(f"grey at its mark would clip {lost}")
        elif plain.inside_stops < min(advised.inside_stops - 0.05, 0):
            said.append(
                f"grey at its mark would be {n.format_stops(plain.inside_stops)} beyond your limit"
            )
        elif advised.level.key.reading is not None:
            key = advised.level.key
            off = plain.level.key.placed_stops - key.placed_stops
            side = "too dark" if off < 0 else "too bright"
            said.append(f"grey at its mark leaves {key.name} {n.format_stops(off)} {side}")
    return "; ".join(said)

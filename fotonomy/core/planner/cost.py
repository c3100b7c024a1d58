"""What is given up by a choice: one number a criterion, in stops, for scalars and arrays alike.

A regret is how far a choice stays behind what is wanted. The score adds the regrets' squares
times their weights, so that small compromises are cheap and large ones dear; glass and change
count straight. All of it is common practice as we see it, no source; the weights stand in
``intent.CRITERIA`` and the person can move them.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from math import log2
from typing import Any

import numpy as np
import numpy.typing as npt

from fotonomy.core import constants as c
from fotonomy.core.analysis.kind_wants import TIME_MET_STOPS, usual_irises, wanted_time
from fotonomy.core.analysis.setup import equivalent_focal_mm, model_of, share_moving
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.exposure.scales import own_rack
from fotonomy.core.gear.neutral_density import Stack, density_to_stops
from fotonomy.core.gear.support import SHAKEN_SUPPORTS, STEADY_SUPPORTS
from fotonomy.core.motion.cadence import COMFORTABLE_GAP_PERCENT, tolerance_of
from fotonomy.core.motion.camera_movement import handheld_limit_s, rolling_rule_time_s
from fotonomy.core.motion.flicker import FLICKER_SAFE_RIPPLE, residual_ripples
from fotonomy.core.motion.shutter import rate_fps
from fotonomy.core.optics import depth_of_field as fo
from fotonomy.core.optics.star_trails import longest_s
from fotonomy.core.photometry.stops import aperture_stops, iso_stops
from fotonomy.core.spec.intent import Look
from fotonomy.core.spec.setup import Setup

Numbers = npt.NDArray[Any]
Shortfalls = dict[str, Numbers]

# Regrets that count straight rather than squared.
STRAIGHT = frozenset({"glass", "change", "wish", "time"})
# What a person has asked for in numbers comes before any taste: a stop of it that is missing weighs
# more than all tastes together.
WISH, WISH_WEIGHT = "wish", 1000.0
# Leaving the method's angle at all costs as much as this many stops off it, so that none of it
# is given for a miss that nobody sees.
LOOK_LEFT_STOPS, LOOK_KEPT_STOPS = 0.5, 0.02
# From here a pixel of the delivery is softened by diffraction: a blur disc as wide as so many.
DIFFRACTION_PX = 1.5
# Dark corners and infrared, in pieces of glass.
CORNERS_PIECES, INFRARED_PIECES = 3.0, 4.0
# A variable ND at its end, likewise: it is unsure of its strength there, and crosses.
END_PIECES = 2.0
# Two thirds of a stop past where diffraction shows, the picture is softer by more than a taste.
SOFT_FROM_STOPS, SOFT_STOPS = 2 / 3, 1.5
# An interval that was asked for is left four times as unwillingly as the rate of a clip.
INTERVAL_TIMES = 4.0
# Close up, the depth of the subject is what the shot is about: what is short counts twice.
CLOSE_SHORT_TIMES = 2.0
# A burst freezes what moves, where nobody asked for more or less.
BURST_FREEZE_PX = 12.0
# Lamps that flicker count so much more than how strongly.
FLICKER_STOPS = 1.0
# A filter in the dark takes what is short.
DARK_PIECES = 5.0
# A wider iris than usual is half as far off as a narrower one.
WIDER_SHARE = 0.5
# Price of a stop of exposure miss; what is under counts twice where shadows are lifted later.
MISS_WEIGHT, UNDER_TIMES = 1.0, 2.0
# A miss past what counts as balanced, and one that is only better than no answer, each cost more
# than any taste, as long as iris, ISO or ND could mend it.
LAST_RESORT_STOPS = 0.5
MISS_STEPS = (
    (c.BALANCED_WITHIN_STOPS, 0.0), (c.TOLERABLE_WITHIN_STOPS, 12.0), (LAST_RESORT_STOPS, 36.0),
)  # fmt: skip
MENDS_THE_LIGHT = frozenset({"iris", "iso", "nd_density"})
MOST_CADENCE_STOPS = 2.0
MOST_DEPTH_STOPS = 6.0
SPARE_DEPTH_SHARE = 0.3
_TINY = 1e-9


def column(*values: float) -> Numbers:
    """Numbers as an array of floats."""
    return np.asarray(values, dtype=np.float64)


@dataclass(frozen=True)
class Yardstick:
    """The setup as it stands, against which every choice is measured."""

    present: Setup
    _weights: dict[str, float] = field(default_factory=dict)

    @cached_property
    def wanted_fps(self) -> float:
        """The frame rate the shot asks for: the edit's, its multiple, or the present one."""
        present = self.present
        if present.records_stills:
            return present.frame_rate
        if present.kind.traits.slows:
            return present.project_fps * present.intent.slow_factor
        return present.project_fps

    @cached_property
    def _rate_times(self) -> float:
        """How often a stop off the rate counts: the interval is what a run looks like."""
        return INTERVAL_TIMES if self.present.kind.traits.has_interval else 1.0

    @cached_property
    def present_field_m(self) -> float:
        """Width of the field as it stands, which framing is held against."""
        return self.present.field_width_m()

    @cached_property
    def present_stops(self) -> dict[str, float]:
        """The present settings in stops, which change is counted from."""
        present = self.present
        return {
            "frame_rate": log2(present.frame_rate), "shutter": log2(present.time_s),
            "iris": aperture_stops(present.iris), "iso": iso_stops(present.iso),
            "nd_density": density_to_stops(present.nd_density),
        }  # fmt: skip

    @cached_property
    def miss_steps(self) -> tuple[tuple[float, float], ...]:
        """How far a plan may miss, in stops, and what going that far costs, nearest first."""
        if self.present.held >= MENDS_THE_LIGHT:
            # Nobody leaves the shutter of the shot for a third of a stop.
            return tuple((stops, 0.0 if k < 2 else price) for k, (stops, price) in
                         enumerate(MISS_STEPS))  # fmt: skip
        return MISS_STEPS

    @cached_property
    def under_weight(self) -> float:
        """What a stop under costs: at night and on a flat curve more than one over."""
        dark = self.present.kind.traits.dark or self.present.profile.is_flat
        return MISS_WEIGHT * (UNDER_TIMES if dark else 1.0)

    def of_miss(self, error_stops: float) -> float:
        """What a miss of the exposure costs; past the last resort no more than there."""
        weight = MISS_WEIGHT if error_stops > 0 else self.under_weight
        step = next(
            (price for stops, price in self.miss_steps if abs(error_stops) <= stops + _TINY),
            self.miss_steps[-1][1],
        )  # fmt: skip
        return weight * abs(error_stops) + step

    def weight(self, name: str) -> float:
        """Weight of a criterion."""
        if name == WISH:
            return WISH_WEIGHT
        if name not in self._weights:
            self._weights[name] = self.present.intent.weight(name)
        return self._weights[name]

    def cost(self, shortfalls: Mapping[str, Numbers]) -> Numbers | float:
        """Weighted sum of regrets."""
        total: Numbers | float = 0.0
        for name, stops in shortfalls.items():
            weight = self.weight(name)
            if weight:
                total = total + weight * (stops if name in STRAIGHT else stops * stops)
        return total

    def of_shutter(self, stand: Setup, fps: Numbers, time_s: Numbers) -> Shortfalls:
        """Regrets of frame rates and shutter times, arrays of one length."""
        here = self.present_stops
        intent, video = self.present.intent, not stand.records_stills
        rate = np.array([rate_fps(float(f)) for f in fps]) if len(fps) < 8 else _exact(fps)
        moves = stand.mover
        field_m = stand.field_width_m(moves.distance_m)
        share = moves.speed_m_s / field_m
        smear_px = share * time_s * stand.delivered_px
        found: Shortfalls = {
            "change": abs(np.log2(time_s) - here["shutter"])
            + abs(np.log2(fps) - here["frame_rate"]),
            "rate": self._rate_times * abs(np.log2(fps / self.wanted_fps)),
        }
        if video:
            turned = np.log2(360 * rate * time_s / self._angle_deg(stand, rate))
            off = self._off_look(stand, turned)
            found["look"] = np.where(
                off > LOOK_KEPT_STOPS, np.sqrt(off * off + LOOK_LEFT_STOPS**2), off
            )
            if share * field_m > c.STILL_BELOW_M_S:
                gap = 100 * np.maximum(share / rate - share * time_s, 0)
                smooth = COMFORTABLE_GAP_PERCENT * tolerance_of(share_moving(stand, moves))
                over = np.log2(np.maximum(gap, _TINY) / smooth)
                found["cadence"] = np.clip(over, 0, MOST_CADENCE_STOPS)
        wishes = self._stars(stand, time_s)
        if not video:
            missed, asked = self._time(stand, fps, time_s)
            found["time"] = missed
            wishes = wishes + asked
        if share * field_m > c.STILL_BELOW_M_S:
            found |= self._smear(smear_px, 100 * share * time_s)
            wishes = wishes + self._smear_wish(smear_px, 100 * share * time_s)
        found[WISH] = wishes
        if self.present.lamps and not stand.single_frame:
            ripple = residual_ripples(time_s, stand.pulses_hz)
            over = np.log2(np.maximum(ripple, _TINY) / FLICKER_SAFE_RIPPLE)
            found["flicker"] = np.where(over > 0, over + FLICKER_STOPS, 0.0)
        if not video and stand.support in SHAKEN_SUPPORTS:
            limit = handheld_limit_s(
                intent.handheld.value, equivalent_focal_mm(stand), stand.stabiliser_stops
            )
            found["hand"] = np.maximum(np.log2(time_s / limit), 0)
        return found

    def _angle_deg(self, stand: Setup, rate: Numbers) -> Numbers:
        """The angle that is wanted at each rate: the method's, on a road one over the speed."""
        look, travel = self.present.intent.look, self.present.movement.travel_m_s
        angles = np.full(rate.shape, look.angle_deg)
        if stand.kind.traits.rolls and travel > 0 and look is not Look.CRISP:
            angles = np.minimum(360.0, 360 * rate * rolling_rule_time_s(travel))
        return angles

    def _off_look(self, stand: Setup, turned: Numbers) -> Numbers:
        """Stops from the method's angle, ``turned`` of it: positive is more open."""
        if self.present.intent.look is Look.CRISP:
            return np.maximum(turned, 0)
        if self.present.kind.traits.dark and self.present.intent.look is Look.OPEN:
            # Open at night as far as the light is short: half a period will do.
            return np.where(turned < -1, -1 - turned, np.maximum(turned, 0))
        if still_life(stand):
            # What stands still has no motion to look right, and takes the time.
            return np.where(turned > 0, np.maximum(turned - 1, 0), -turned)
        return abs(turned)

    def _time(self, stand: Setup, fps: Numbers, time_s: Numbers) -> tuple[Numbers, Numbers]:
        """Stops off the time that a run or a long exposure wants: by its kind, and as asked."""
        by_kind, asked = np.zeros(len(time_s)), np.zeros(len(time_s))
        for rate in np.unique(fps):
            wanted = wanted_time(replace(stand, frame_rate=float(rate)))
            if wanted is None:
                continue
            at = fps == rate
            short = np.log2(wanted.low_s / time_s[at])
            off = np.maximum(short, np.log2(time_s[at] / wanted.high_s))
            (asked if wanted.asked else by_kind)[at] = _beyond(off, TIME_MET_STOPS + 0.015)
        return by_kind, asked

    def _stars(self, stand: Setup, time_s: Numbers) -> Numbers:
        """Stops of a star's trail over the longest one asked for."""
        run = self.present.run
        if run.declination_deg is None or not stand.records_stills:
            return np.zeros(len(time_s))
        longest = longest_s(
            stand.focal_mm, stand.delivered_pitch_mm, run.star_px, run.declination_deg
        )
        return _beyond(np.log2(np.maximum(time_s / longest, _TINY)), c.LIMIT_MET_STOPS)

    def _smear_wish(self, smear_px: Numbers, smear_percent: Numbers) -> Numbers:
        """Stops by which the smear asked for is missed, past what counts as met."""
        intent, stops = self.present.intent, np.zeros(len(smear_px))
        if intent.freeze_px is not None:
            stops = _beyond(np.log2(smear_px / intent.freeze_px), c.LIMIT_MET_STOPS)
        if intent.smear_percent is not None:
            off = abs(np.log2(smear_percent / intent.smear_percent))
            stops = np.maximum(stops, _beyond(off, c.AIM_MET_STOPS))
        return stops

    def _smear(self, smear_px: Numbers, smear_percent: Numbers) -> Shortfalls:
        intent, stops = self.present.intent, []
        freeze = intent.freeze_px
        if freeze is None and intent.smear_percent is None and self.present.kind.traits.drive:
            freeze = BURST_FREEZE_PX
        if freeze is not None:
            stops.append(np.maximum(np.log2(smear_px / freeze), 0))
        if intent.smear_percent is not None:
            stops.append(abs(np.log2(smear_percent / intent.smear_percent)))
        return {"smear": np.maximum.reduce(stops)} if stops else {}

    def of_iris(self, stand: Setup, f_numbers: Numbers) -> Shortfalls:
        """Regrets of f-numbers."""
        recorded, imaging = stand.format, stand.imaging
        airy_um = fo.airy_um(1.0, imaging.magnification) * f_numbers
        marked = np.array([aperture_stops(float(n)) for n in f_numbers])
        found: Shortfalls = {
            "change": abs(marked - self.present_stops["iris"]),
        }
        soft = np.maximum(
            2 * np.log2(airy_um / (1000 * DIFFRACTION_PX * stand.delivered_pitch_mm)), 0
        )
        found["sharpness"] = np.where(soft > SOFT_FROM_STOPS, soft + SOFT_STOPS, soft)
        asked = self.present.intent.depth_m
        wanted = asked
        if wanted is None and stand.kind.traits.close_up:
            # Close up the subject itself has to be sharp.
            wanted = stand.subject_depth_m
        if wanted is None:
            low, high = (aperture_stops(one) for one in usual_irises(stand))
            wider = 1.0 if stand.records_stills else WIDER_SHARE
            found["iris"] = np.maximum(np.maximum(marked - high, wider * (low - marked)), 0)
        else:
            circle = fo.circle_mm(self.present.intent.circle, recorded.diagonal_mm,
                                  stand.delivered_pitch_mm)  # fmt: skip
            s_m, focal = imaging.front_m, imaging.focal_mm
            q = f_numbers * circle * (1000 * s_m - focal) / focal**2
            depth = np.where(q < 1, 2 * s_m * q / np.maximum(1 - q * q, _TINY), np.inf)
            over = np.clip(np.log2(depth / wanted), -20, MOST_DEPTH_STOPS)
            short = 1.0 if asked is not None else CLOSE_SHORT_TIMES
            found["depth"] = np.where(over < 0, -short * over, SPARE_DEPTH_SHARE * over)
            if asked is not None:
                found[WISH] = _beyond(-over, c.DEPTH_MET_STOPS)
        return found

    def of_iso(self, isos: Numbers) -> Shortfalls:
        """Regrets of ISO values: distance from a base, and noise over the cleanest."""
        present = self.present
        bases = np.array(bases_of(present), float)
        stops = np.log2(isos / 100)
        model = model_of(present)
        clean = model.looks_like(float(bases[0]))
        return {
            "change": abs(stops - self.present_stops["iso"]),
            "base": np.min(abs(np.log2(isos[:, None] / bases[None, :])), axis=1),
            "noise": np.maximum(np.log2(model.looks_like(isos) / clean), 0),
        }

    def of_glass(self, stand: Setup, made: tuple[Stack, ...]) -> Shortfalls:
        """Regrets of ND stacks: the pieces, infrared, and dark corners."""
        stops = np.array([s.stops for s in made])
        pieces = np.array([float(len(s.pieces)) for s in made])
        corners = (pieces > 1) & (equivalent_focal_mm(stand) < c.STACK_VIGNETTE_BELOW_MM)
        infrared = stops >= c.INFRARED_FROM_STOPS - 0.05
        ends = np.array([s.near_end for s in made], dtype=bool)
        if self.present.kind.traits.dark:
            pieces = DARK_PIECES * pieces
        return {
            "change": abs(stops - self.present_stops["nd_density"]),
            "glass": pieces + CORNERS_PIECES * corners + INFRARED_PIECES * infrared
            + END_PIECES * ends,
        }  # fmt: skip

    def of_stand(self, stand: Setup) -> Shortfalls:
        """Regrets of where the camera stands and what it looks through."""
        field_m = stand.field_width_m()
        other = stand.lens.name != self.present.lens.name
        moved = abs(log2(stand.subject_distance_m / self.present.subject_distance_m))
        zoomed = abs(log2(stand.focal_mm / self.present.focal_mm))
        return {
            "framing": column(log2(field_m / self.present_field_m)),
            "change": column(float(other) + moved + zoomed),
        }


def bases_of(setup: Setup) -> tuple[int, ...]:
    """The base ISO values, lowest first: of the profile, and of the body for single pictures."""
    if setup.records_stills or not setup.profile.base_iso:
        return (setup.lowest_base,)
    return tuple(sorted(setup.profile.base_iso))


def still_life(setup: Setup) -> bool:
    """True close up, on a tripod, where nothing moves: such a picture may take its time."""
    steady = setup.support in STEADY_SUPPORTS
    still = setup.mover.speed_m_s <= c.STILL_BELOW_M_S
    return setup.kind.traits.close_up and steady and still


def _beyond(stops: Numbers, met: float) -> Numbers:
    """Stops past what counts as met; nothing under it."""
    return np.where(stops > met, stops, 0.0)


def _exact(fps: Numbers) -> Numbers:
    values, back = np.unique(fps, return_inverse=True)
    return np.array([rate_fps(float(f)) for f in values])[back]


@dataclass(frozen=True, slots=True)
class Judgement:
    """How a setup does: regret by criterion in stops, the miss, and the score (less is better).

    ``regrets`` holds raw stops, ``costs`` the same weighted as they enter the score.
    """

    shortfalls: dict[str, float]
    costs: dict[str, float]
    error_stops: float
    score: float


def judge(setup: Setup, yardstick: Yardstick) -> Judgement:
    """One whole setup against the yardstick; the same terms the search adds up."""
    made = own_rack(setup).stacks
    stack = next(
        (s for s in made if abs(s.density - setup.nd_density) < 0.005),
        Stack(setup.nd_density, ("",)),
    )
    parts = (
        yardstick.of_stand(setup),
        yardstick.of_shutter(setup, column(setup.frame_rate), column(setup.time_s)),
        yardstick.of_iris(setup, column(setup.iris)),
        yardstick.of_iso(column(setup.iso)),
        yardstick.of_glass(setup, (stack,)),
    )
    shortfalls: dict[str, float] = {}
    for part in parts:
        for name, stops in part.items():
            shortfalls[name] = shortfalls.get(name, 0.0) + float(stops[0])
    if not shortfalls.get(WISH):
        shortfalls.pop(WISH, None)
    costs = {
        name: yardstick.weight(name) * (x if name in STRAIGHT else x * x)
        for name, x in shortfalls.items()
    }
    error = light_budget(setup).error_stops
    return Judgement(shortfalls, costs, error, sum(costs.values()) + yardstick.of_miss(error))

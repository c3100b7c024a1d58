"""Everything the numbers of one setup come to, before anyone judges them."""

from dataclasses import dataclass, replace
from typing import TypeVar

from fotonomy.core import constants as c
from fotonomy.core.analysis.burst import burst_of, lean_of, moving_field_m, rolls_down
from fotonomy.core.analysis.interval import (
    IntervalRun,
    card_of,
    data_rate_mb_s,
    each_mb,
    interval_run,
)
from fotonomy.core.analysis.long_exposure import long_exposure_of
from fotonomy.core.conversions import PERCENT
from fotonomy.core.exposure.light_budget import Budget, light_budget
from fotonomy.core.exposure.scales import (
    Offer,
    frame_rate_offer,
    iris_offer,
    iso_offer,
    nd_offer,
    own_rack,
    shutter_offer,
)
from fotonomy.core.gear.imaging import reach
from fotonomy.core.gear.neutral_density import Stack
from fotonomy.core.motion.cadence import Motion, motion, pixels_of, tolerance_of
from fotonomy.core.motion.camera_movement import (
    Camera,
    Mover,
    Way,
    angle_of_view_deg,
    handheld_limit_s,
    rolling_rule_time_s,
)
from fotonomy.core.motion.flicker import Flicker, flicker
from fotonomy.core.motion.shutter import Shutter, rate_fps
from fotonomy.core.optics import depth_of_field as fo
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Combining
from fotonomy.core.stills.burst import Burst
from fotonomy.core.stills.clip import Clip, interval_clip, single_frame_clip, still_clip, video_clip
from fotonomy.core.stills.long_exposure import LongExposure
from fotonomy.core.tone.noise import (
    Noise,
    NoiseModel,
    noise_model,
    noise_of,
)
from fotonomy.core.tone.placement import placing
from fotonomy.core.tone.signal_levels import Level, level
from fotonomy.core.tone.white_balance import White, white_balance
from fotonomy.core.traced_numbers import Names


@dataclass(frozen=True, slots=True)
class Passing:
    """Something a travelling camera passes: name, distance in m, smear in percent and pixels."""

    name: str
    distance_m: float
    smear_percent: float
    smear_px: float


@dataclass(frozen=True, slots=True)
class Shake:
    """What the camera adds: handheld limit, rolling rule, and the lean of a rolling shutter.

    ``handheld_s`` is the slowest time for a sharp single picture; ``rolling_rule_s`` and
    ``passing`` are for a travelling camera only; ``lean_deg`` None where the readout is
    unknown or nothing moves. ``freeze_s`` is the longest time within the freeze limit.
    """

    handheld_s: float
    rolling_rule_s: float | None
    passing: tuple[Passing, ...]
    lean_deg: float | None
    freeze_s: float | None


@dataclass(frozen=True, slots=True)
class Analysis:
    """A setup and what it works out to; ``stack`` is None where no owned glass makes the ND.

    ``run`` is what its kind adds: an interval run, a burst or a long exposure; None for video.
    ``names`` is where the workings of its numbers are, if they are asked for.
    """

    setup: Setup
    budget: Budget
    motion: Motion
    flicker: Flicker
    focus: fo.Focus
    shake: Shake
    level: Level
    noise: Noise
    white: White
    clip: Clip
    run: IntervalRun | Burst | LongExposure | None
    offers: dict[str, Offer]
    stacks: tuple[Stack, ...]
    stack: Stack | None
    glass_left_out: int
    names: Names | None = None

    def named(self, name: str, text: str) -> str:
        """A text that leads to the working of a name, where workings are asked for."""
        return text if self.names is None else self.names.mark(name, text)


Run = TypeVar("Run", IntervalRun, Burst, LongExposure)


def run_of(analysis: Analysis, kind: type[Run]) -> Run:
    """What a kind of single pictures adds, as its own rules know it. TypeError for another kind."""
    if not isinstance(analysis.run, kind):
        raise TypeError(f"{analysis.setup.kind.label} has no {kind.__name__}")
    return analysis.run


def view_across_deg(setup: Setup) -> float:
    """How wide the picture sees at this focus, in degrees."""
    return angle_of_view_deg(setup.picture_width_mm, setup.image_mm)


def view_up_deg(setup: Setup) -> float:
    """How high it sees, in degrees."""
    return angle_of_view_deg(setup.format.sensor_height_mm, setup.image_mm)


def capture_fps(setup: Setup) -> float:
    """Frames taken a second, exactly: 23.976 is 24000/1001."""
    return rate_fps(setup.frame_rate)


def project_fps(setup: Setup) -> float:
    """Frames the edit shows a second, exactly."""
    return rate_fps(setup.project_fps)


def background_front_m(setup: Setup) -> float:
    """How far the background stands before the lens, in metres."""
    back_m = setup.movement.background_at_m(setup.subject_distance_m)
    return back_m - setup.imaging.behind_m


def equivalent_focal_mm(setup: Setup) -> float:
    """Focal length with the same angle of view on full frame, by diagonals."""
    return setup.focal_mm * c.FULL_FRAME_DIAGONAL_MM / setup.format.diagonal_mm


def clip_of(setup: Setup) -> Clip:
    """One take of a setup, from the camera to the screen."""
    still_mb, card_gb = each_mb(setup), card_of(setup).size_gb
    if setup.single_frame:
        return single_frame_clip(
            screen_s=setup.wanted_screen_s, time_s=setup.time_s,
            project_fps=setup.project_fps, still_mb=still_mb, card_gb=card_gb,
            # What is combined later stays on the card frame by frame.
            frames=setup.run.frames if setup.run.combining is Combining.LATER else 1,
        )  # fmt: skip
    if setup.kind.traits.has_interval:
        return interval_clip(
            screen_s=setup.wanted_screen_s, handle_s=setup.handle_s,
            interval_s=1 / setup.frame_rate, time_s=setup.time_s,
            project_fps=setup.project_fps, still_mb=still_mb, card_gb=card_gb,
        )  # fmt: skip
    if setup.records_stills:
        return still_clip(
            screen_s=setup.wanted_screen_s, handle_s=setup.handle_s,
            capture_fps=setup.frame_rate, project_fps=setup.project_fps,
            still_mb=still_mb, card_gb=card_gb,
        )  # fmt: skip
    return video_clip(
        screen_s=setup.wanted_screen_s, handle_s=setup.handle_s,
        capture_fps=setup.frame_rate, project_fps=setup.project_fps,
        mb_s=data_rate_mb_s(setup), card_gb=card_gb,
    )  # fmt: skip


def run_s(setup: Setup) -> float:
    """Seconds that an interval run records, handles included; for anything else what is asked."""
    if not setup.kind.traits.has_interval:
        return setup.run.event_s
    return clip_of(setup).record_s


def share_moving(setup: Setup, moves: Mover) -> float:
    """Share of the frame's width that moves: all of it, or what the subject fills."""
    if moves.whole_frame:
        return 1.0
    return min(1.0, setup.subject_size_m / setup.field_width_m(moves.distance_m))


def _motion(setup: Setup, moves: Mover, rate: float | None) -> Motion:
    camera = setup.movement
    return motion(
        field_m=moving_field_m(setup),
        speed_m_s=moves.speed_m_s,
        time_s=setup.time_s,
        capture_fps=rate,
        project_fps=project_fps(setup),
        width_px=setup.delivered_px,
        mover=moves.name,
        tolerance=tolerance_of(share_moving(setup, moves)),
        pan_deg_s=camera.pan_deg_s if camera.camera is Camera.PAN else 0.0,
    )


def focus_of(setup: Setup) -> fo.Focus:
    """The focus lane of a setup."""
    recorded, s_m, imaging = setup.format, setup.subject_distance_m, setup.imaging
    focal, front, behind = imaging.focal_mm, imaging.front_m, imaging.behind_m
    circle = fo.circle_mm(setup.intent.circle, recorded.diagonal_mm, setup.delivered_pitch_mm)
    near = fo.sharp_from_m(behind, focal, setup.iris, circle, front)
    far = fo.sharp_to_m(behind, focal, setup.iris, circle, front)
    m = imaging.magnification
    back_m = setup.movement.background_at_m(s_m)
    blur = fo.blur_disc_mm(focal, setup.iris, m, front, background_front_m(setup))
    wanted = setup.intent.depth_m
    return fo.Focus(
        circle_mm=circle,
        hyperfocal_m=fo.hyperfocal_m(setup.focal_mm, setup.iris, circle),
        near_m=near,
        far_m=far,
        depth_m=fo.between_m(near, far),
        field_width_m=setup.field_width_m(),
        field_height_m=setup.field_height_m(),
        magnification=m,
        bellows_stops=fo.bellows_stops(m),
        background_m=back_m,
        background_blur_mm=blur,
        background_blur_percent=fo.share_of_width_percent(blur, recorded.sensor_width_mm),
        airy_um=fo.airy_um(setup.iris, m),
        two_pixels_um=fo.two_pixels_um(setup.delivered_pitch_mm),
        reach=reach(
            setup.focal_mm,
            setup.lens.close_focus_m,
            setup.lens.greatest_magnification,
            setup.tubes_mm,
        ),
        wanted_depth_m=wanted,
        needed_iris=None if wanted is None else fo.iris_for_depth(focal, circle, front, wanted),
    )


def model_of(setup: Setup) -> NoiseModel:
    """The noise model of a setup's body, format and profile."""
    body = setup.body
    return noise_model(body.sensor, setup.format, setup.profile, body.iso_lowest)


def worst_frame(
    setup: Setup, budget: Budget, run: IntervalRun | Burst | LongExposure | None
) -> tuple[Setup, float]:
    """The settings of a run's noisiest frame, and by how much it is off in stops.

    Of anything that does not follow its light: the setup itself, and its miss.
    """
    if not isinstance(run, IntervalRun) or not setup.run.light_curve:
        return setup, budget.error_stops
    ramp = run.ramp
    # The highest ISO, the longest time, and then what is lifted most.
    worst = max(
        range(len(ramp.at_s)),
        key=lambda k: (ramp.iso[k], ramp.shutter_s[k], -ramp.miss_stops[k]),
    )  # fmt: skip
    there = replace(
        setup, iso=int(ramp.iso[worst]), shutter=Shutter(time_s=float(ramp.shutter_s[worst]))
    )
    return there, float(ramp.miss_stops[worst])


def farthest_off(setup: Setup, run: IntervalRun | Burst | LongExposure | None) -> float | None:
    """The miss of the frame of a run that is farthest off; None of what follows no light."""
    if not isinstance(run, IntervalRun) or not setup.run.light_curve:
        return None
    return float(max(run.ramp.miss_stops, key=abs))


def level_at(setup: Setup, budget: Budget, error_stops: float) -> Level:
    """The level of a frame that is so many stops off."""
    return level(
        setup.recorded_profile, setup.readings, error_stops, budget.target_stops,
        setup.intent.exposing,
    )  # fmt: skip


def noise_in(setup: Setup, error_stops: float) -> Noise:
    """The noise of a setup in the finished picture: a miss is put right in the edit."""
    method = placing(setup.intent.exposing, setup.recorded_profile, setup.readings)
    averaging = setup.single_frame and setup.run.combining is Combining.AVERAGE
    in_camera = setup.run.frames if averaging else 1
    model, air_c = model_of(setup), setup.run.temperature_c
    return noise_of(
        model, setup.recorded_profile, iso=setup.iso, ceiling=setup.body.iso_ceiling,
        error_stops=error_stops, post_stops=method.post_stops,
        delivered_px=setup.intent.delivery_px, frames=setup.intent.averaged_frames * in_camera,
        dark_e=model.dark_e(setup.time_s, air_c) if setup.records_stills else 0.0,
    )  # fmt: skip


# A travelling camera's near objects, as a share of the subject's distance (common practice).
NEAR_SHARE = 0.35


def freeze_s(freeze_px: float, delivered_px: int, field_m: float, speed_m_s: float) -> float:
    """The longest time with which it smears no more than so many delivered pixels."""
    return freeze_px / delivered_px * field_m / speed_m_s


def passing_percent(setup: Setup, at_m: float) -> float:
    """Smear of what a travelling camera passes at a distance, in percent of the frame's width.

    Ahead of the camera things stream out of the picture: at its edge half the frame's width for
    each distance travelled, over the distance.
    """
    field_m = setup.field_width_m(at_m)
    ahead = setup.movement.way in (Way.TOWARDS, Way.AWAY)
    seen = field_m / (2 * at_m) if ahead else 1.0
    return PERCENT * setup.movement.travel_m_s * seen * setup.time_s / field_m


def _shake(setup: Setup) -> Shake:
    moves, camera = setup.mover, setup.movement
    field_m = moving_field_m(setup)
    moving = moves.speed_m_s > c.STILL_BELOW_M_S
    passing: tuple[Passing, ...] = ()
    rolls = camera.camera is Camera.TRAVEL and camera.travel_m_s > c.STILL_BELOW_M_S
    if rolls:
        passing = tuple(
            _pass(setup, name, at)
            for name, at in (
                ("near", setup.subject_distance_m * NEAR_SHARE),
                ("middle", setup.subject_distance_m),
                ("far", camera.background_at_m(setup.subject_distance_m)),
            )
        )
    lean = lean_of(setup) if moving and rolls_down(setup) else None
    freeze = setup.intent.freeze_px
    return Shake(
        handheld_s=handheld_limit_s(
            setup.intent.handheld.value, equivalent_focal_mm(setup), setup.stabiliser_stops
        ),
        rolling_rule_s=rolling_rule_time_s(camera.travel_m_s) if rolls else None,
        passing=passing,
        lean_deg=lean,
        freeze_s=None
        if freeze is None or not moving
        else freeze_s(freeze, setup.delivered_px, field_m, moves.speed_m_s),
    )


def _pass(setup: Setup, name: str, at_m: float) -> Passing:
    smear = passing_percent(setup, at_m)
    return Passing(name, at_m, smear, pixels_of(smear, setup.delivered_px))


def _run(
    setup: Setup, clip: Clip, moved: Motion, landed: Level
) -> IntervalRun | Burst | LongExposure | None:
    """What the kind of a setup adds to the rest."""
    traits = setup.kind.traits
    if traits.has_interval:
        return interval_run(setup, clip, model_of(setup))
    if traits.drive:
        return burst_of(setup)
    return long_exposure_of(setup, moved, landed) if traits.long_frame else None


def analyse(setup: Setup) -> Analysis:
    """Plan the numbers of one setup. Raises RuleError only where a setup itself would."""
    budget = light_budget(setup)
    made = own_rack(setup)
    capture = None if setup.single_frame else capture_fps(setup)
    moved, clip = _motion(setup, setup.mover, capture), clip_of(setup)
    landed = level_at(setup, budget, budget.error_stops)
    run = _run(setup, clip, moved, landed)
    farthest = farthest_off(setup, run)
    return Analysis(
        setup=setup,
        budget=budget,
        motion=moved,
        flicker=flicker(setup.time_s, setup.frame_rate, setup.pulses_hz),
        focus=focus_of(setup),
        shake=_shake(setup),
        level=landed if farthest is None else level_at(setup, budget, farthest),
        noise=noise_in(*worst_frame(setup, budget, run)),
        white=white_balance(setup),
        clip=clip,
        run=run,
        offers={
            "frame_rate": frame_rate_offer(setup),
            "shutter": shutter_offer(setup),
            "iris": iris_offer(setup),
            "iso": iso_offer(setup),
            "nd_density": nd_offer(setup, made.stacks),
        },
        stacks=made.stacks,
        stack=next((s for s in made.stacks if abs(s.density - setup.nd_density) < 0.005), None),
        glass_left_out=made.left_out,
    )

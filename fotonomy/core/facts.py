"""Everything the numbers of one setup come to, before anyone judges them."""

from dataclasses import dataclass
from math import hypot

from fotonomy.core import constants as c
from fotonomy.core.budget import Budget, light_budget
from fotonomy.core.clip import Clip, single_frame_clip, still_clip, video_clip
from fotonomy.core.density import Stack, stacks
from fotonomy.core.levels import Level, level
from fotonomy.core.motion import Motion, field_width_m, motion
from fotonomy.core.settings import (
    Offer,
    frame_rate_offer,
    iris_offer,
    iso_offer,
    nd_offer,
    shutter_offer,
)
from fotonomy.core.setup import Setup
from fotonomy.core.shutter import Flicker, flicker, rate_fps


@dataclass(frozen=True, slots=True)
class Facts:
    """A setup and what it works out to; ``stack`` is None where no owned glass makes the ND."""

    setup: Setup
    budget: Budget
    motion: Motion
    flicker: Flicker
    level: Level
    clip: Clip
    offers: dict[str, Offer]
    stacks: tuple[Stack, ...]
    stack: Stack | None


def equivalent_focal_mm(setup: Setup) -> float:
    """Focal length with the same angle of view on full frame, by diagonals."""
    diagonal = hypot(setup.body.sensor_width_mm, setup.body.sensor_height_mm)
    return setup.focal_mm * c.FULL_FRAME_DIAGONAL_MM / diagonal


def _clip(setup: Setup) -> Clip:
    body = setup.body
    if setup.single_frame:
        return single_frame_clip(
            screen_s=setup.wanted_screen_s, time_s=setup.time_s,
            project_fps=setup.project_fps, still_mb=body.still_mb, card_gb=body.card_gb,
        )  # fmt: skip
    if setup.records_stills:
        return still_clip(
            screen_s=setup.wanted_screen_s, handle_s=setup.handle_s,
            capture_fps=setup.frame_rate, project_fps=setup.project_fps,
            still_mb=body.still_mb, card_gb=body.card_gb,
        )  # fmt: skip
    nearest = min(body.rates, key=lambda rate: abs(rate.fps - setup.frame_rate))
    return video_clip(
        screen_s=setup.wanted_screen_s, handle_s=setup.handle_s,
        capture_fps=setup.frame_rate, project_fps=setup.project_fps,
        mb_s=nearest.mb_s, card_gb=body.card_gb,
    )  # fmt: skip


def work_out(setup: Setup) -> Facts:
    """Plan the numbers of one setup. Raises RuleError only where a setup itself would."""
    body = setup.body
    budget = light_budget(setup)
    made = stacks(setup.glass, setup.lens)
    capture = None if setup.single_frame else rate_fps(setup.frame_rate)
    return Facts(
        setup=setup,
        budget=budget,
        motion=motion(
            field_m=field_width_m(body.sensor_width_mm, setup.focal_mm, setup.subject_distance_m),
            speed_m_s=setup.subject_speed_m_s,
            time_s=setup.time_s,
            capture_fps=capture,
            project_fps=rate_fps(setup.project_fps),
            width_px=body.width_px,
        ),
        flicker=flicker(setup.time_s, setup.frame_rate, setup.mains_hz),
        level=level(setup.profile, budget.error_stops, setup.key_name, setup.key_stops),
        clip=_clip(setup),
        offers={
            "frame_rate": frame_rate_offer(setup),
            "shutter": shutter_offer(setup),
            "iris": iris_offer(setup),
            "iso": iso_offer(setup),
            "nd": nd_offer(setup, made),
        },
        stacks=made,
        stack=next((s for s in made if abs(s.density - setup.nd_density) < 0.005), None),
    )

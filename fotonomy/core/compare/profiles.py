"""Profiles side by side at one scene: what each holds, how clean it is, how finely it steps."""

from dataclasses import dataclass, replace

from fotonomy.core.analysis.setup import model_of
from fotonomy.core.gear.profile import Profile
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tone.noise import SHADOW_STOPS, NoiseModel
from fotonomy.core.tone.placement import placing
from fotonomy.core.tone.signal_levels import Level, Tone, level


@dataclass(frozen=True, slots=True)
class ProfileOutcome:
    """One profile at this scene, exposed by the setup's method.

    ``looks_like_iso`` is at the same light on the sensor, counted on the scale of the profile
    in use, so that they compare: a base ISO that is said otherwise makes no picture cleaner.
    """

    profile: Profile
    level: Level
    clipped: tuple[Tone, ...]
    looks_like_iso: float
    bits: int


def compare_profiles(setup: Setup, profiles: tuple[Profile, ...]) -> tuple[ProfileOutcome, ...]:
    """What becomes of the scene on each of them, at the same iris, shutter and ISO."""
    return tuple(_outcome(replace(setup, profile=profile), model_of(setup)) for profile in profiles)


def _outcome(there: Setup, scale: NoiseModel) -> ProfileOutcome:
    method = placing(there.intent.exposing, there.recorded_profile, there.readings)
    x = method.offset_stops
    profile = there.recorded_profile
    landed = level(profile, there.readings, 0.0, x, there.intent.exposing)
    return ProfileOutcome(
        profile=there.profile,
        level=landed,
        clipped=tuple(tone for tone in landed.tones if tone.clipped_stops > 0),
        looks_like_iso=shown_on(scale, there, -method.post_stops),
        bits=profile.bits,
    )


def shown_on(scale: NoiseModel, there: Setup, pulled_stops: float) -> float:
    """Looks-like ISO of a setup's shadows at equal exposure, on the scale of another model.

    The sensor is the same and gets the same light: only the gain the profile reads it with, and
    what is pulled in the edit, differ.
    """
    intent = there.intent
    own = replace(model_of(there), grey_e_iso=scale.grey_e_iso, full_well_e=scale.full_well_e)
    shown = own.snr(
        there.iso, SHADOW_STOPS + pulled_stops, intent.delivery_px, intent.averaged_frames
    )
    return float(scale.iso_for(shown))

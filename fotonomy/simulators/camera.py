"""A stand-in camera: grey frames with the noise of a sensor, as files would hold them."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from fotonomy.core.curves.transfer_functions import encode
from fotonomy.core.gear.profile import LevelScale, Profile
from fotonomy.core.tone.noise import NoiseModel


def codes_of(linear: NDArray[Any], profile: Profile) -> NDArray[np.uint16]:
    """Linear light as the profile records it: clipped, rounded to its bits, spread over 16."""
    level = np.minimum(encode(profile.curve, linear), profile.clip_percent / 100)
    share = level if profile.scale is LevelScale.FULL else (64 + 876 * level) / 1023
    steps = 2**profile.bits - 1
    rounded = np.clip(np.round(share * steps), 0, steps)
    return np.asarray(np.round(rounded * (65535 / steps)), dtype=np.uint16)


def grey_frame(
    model: NoiseModel, profile: Profile, iso: int, stops: tuple[float, float], seed: int,
    width: int = 960, height: int = 540,
) -> NDArray[np.uint16]:  # fmt: skip
    """A frame of a grey wall lit from one side, in codes of 16 bits.

    The wall runs from the first to the second of ``stops`` over grey. Photons are Poisson,
    read noise is normal; the same seed gives the same frame.
    """
    random = np.random.default_rng(seed)
    ramp = np.linspace(*stops, num=width)[None, :].repeat(height, axis=0)
    # Held in hand, no lamp lights a wall quite evenly.
    ramp += 0.05 * np.sin(np.linspace(0, 3, height))[:, None]
    electrons = model.electrons(iso, ramp)
    caught = random.poisson(electrons) + random.normal(0, float(model.read_e(iso)), ramp.shape)
    return codes_of(caught * (iso / model.grey_e_iso) * profile.grey_linear, profile)

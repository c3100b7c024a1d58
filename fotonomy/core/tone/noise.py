"""Noise after EMVA Standard 1288: electrons, their noise, and one number people understand.

The number is the looks-like ISO: the ISO at which this body, nominally exposed and at its
lower gain, would show the same signal-to-noise ratio in the reference shadow.
"""

from dataclasses import dataclass, replace
from functools import lru_cache
from math import log2
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from fotonomy.core import constants as c
from fotonomy.core.gear.body import RecordingFormat, Sensor
from fotonomy.core.gear.profile import Profile
from fotonomy.core.notation import writing as n
from fotonomy.core.tone.signal_levels import UNROUNDED, CodeSteps, headroom_stops, steps_of_grey

# Noise. The shadow people judge by, in stops from grey: common practice, no source.
SHADOW_STOPS = -3.0
# Electrons a square micrometre of photosite holds, read noise at low and at high gain in
# electrons, and the part of the signal photosites differ by: typical of recent sensors,
# from memory of EMVA Standard 1288 data sheets. The pairs are what such sheets spread over.
WELL_E_UM2, WELL_RANGE_E_UM2 = 1200.0, (700.0, 2200.0)
READ_LOW_E, READ_LOW_RANGE_E = 4.0, (6.0, 2.5)
READ_HIGH_E, READ_HIGH_RANGE_E = 1.6, (3.0, 1.0)
PRNU_SHARE = 0.005
# Dark current in electrons a second and square micrometre at 25 °C, and by how many degrees it
# doubles (six to eight): from memory of the same sheets.
DARK_E_S_UM2, DARK_AT_C, DARK_DOUBLES_C = 0.005, 25.0, 7.0
# A body at work is so much warmer inside than the air. Common practice, no source.
WARMER_INSIDE_C = 10.0


# Tones drown where the noise is as large as they are (EMVA Standard 1288: SNR of one).
DROWNED_SNR = 1.0
Numbers = NDArray[Any]


@dataclass(frozen=True, slots=True)
class NoiseModel:
    """A sensor behind a profile and a format. Electrons are those of one photosite.

    ``grey_e_iso`` is the electrons of grey, nominally exposed, times the ISO: they fall in
    proportion. ``upper_base`` is where the higher gain begins, None without one.
    ``gain_px`` is the square root of photosites per delivered pixel.
    """

    full_well_e: float
    read_low_e: float
    read_high_e: float
    prnu_share: float
    grey_e_iso: float
    lowest_base: int
    upper_base: int | None
    photosites_px: int
    delivered_px: int
    assumed: bool
    pitch_um: float

    def dark_e(self, time_s: float, air_c: float) -> float:
        """Electrons a photosite collects of its own in an exposure: twice as many every 7 °C."""
        warmer = (air_c + WARMER_INSIDE_C - DARK_AT_C) / DARK_DOUBLES_C
        return float(DARK_E_S_UM2 * self.pitch_um**2 * time_s * 2.0**warmer)

    @property
    def gain_px(self) -> float:
        """What averaging photosites into delivered pixels does to the signal-to-noise ratio."""
        return self.photosites_px / self.delivered_px

    def read_e(self, iso: ArrayLike) -> Numbers:
        """Read noise in electrons at ISO values: low gain under the upper base, else high."""
        at = np.asarray(iso, dtype=np.float64)
        if self.upper_base is None:
            return np.full(at.shape, self.read_low_e)
        return np.where(at < 0.999 * self.upper_base, self.read_low_e, self.read_high_e)

    def electrons(self, iso: ArrayLike, placed_stops: ArrayLike) -> Numbers:
        """Electrons of tones placed so many stops from grey, at ISO values."""
        return np.asarray(self.grey_e_iso / np.asarray(iso) * np.exp2(np.asarray(placed_stops)))

    def snr(
        self, iso: ArrayLike, placed_stops: ArrayLike, delivered_px: int | None = None,
        frames: ArrayLike = 1, dark_e: float = 0.0,
    ) -> Numbers:  # fmt: skip
        """Signal-to-noise ratio in the delivered picture: ``σ² = μ + σ_read² + (prnu·μ)²``.

        Dark electrons add their own number to the variance. Averaging frames lessens what
        changes from frame to frame, not the pattern of the sensor; a smaller delivery lessens both.
        """
        mu, read = self.electrons(iso, placed_stops), self.read_e(iso)
        variance = (mu + read**2 + dark_e) / np.asarray(frames) + (self.prnu_share * mu) ** 2
        size = self.photosites_px / (delivered_px or self.delivered_px)
        return np.asarray(mu / np.sqrt(np.maximum(variance, 1e-30)) * size)

    def looks_like(
        self, iso: ArrayLike, pulled_stops: ArrayLike = 0.0, delivered_px: int | None = None,
        frames: ArrayLike = 1, dark_e: float = 0.0,
    ) -> Numbers:  # fmt: skip
        """Looks-like ISO where the reference shadow was exposed so many stops over, and pulled.

        One stop over halves it and two under quadruple it, exactly, at the lower gain.
        """
        shown = self.snr(iso, SHADOW_STOPS + np.asarray(pulled_stops), delivered_px, frames, dark_e)
        return self.iso_for(shown)

    def iso_for(
        self, snr: ArrayLike, stops: float = SHADOW_STOPS, delivered_px: int | None = None
    ) -> Numbers:
        """The ISO whose reference shadow has this ratio, nominally exposed at the lower gain.

        Or another tone, so many ``stops`` from grey as recorded, in a picture of so many pixels.
        """
        shown = np.asarray(snr, dtype=np.float64)
        own_size = self.photosites_px / (delivered_px or self.delivered_px)
        power = (shown / own_size) ** 2
        fixed = np.maximum(1 - power * self.prnu_share**2, 1e-9)
        root = np.sqrt(power**2 + 4 * fixed * power * self.read_low_e**2)
        needed_e = (power + root) / (2 * fixed)
        with np.errstate(divide="ignore"):
            return np.asarray(self.grey_e_iso * 2.0**stops / np.maximum(needed_e, 1e-12))

    def floor_stops(
        self, iso: float, delivered_px: int | None = None, frames: int = 1, dark_e: float = 0.0,
        steps: CodeSteps = UNROUNDED,
    ) -> float:  # fmt: skip
        """Stops from grey, as placed, where the noise is as large as the tone.

        To the sensor's noise comes that of rounding to code values, ``step²/12`` each delivered
        pixel (W. R. Bennett, Bell System Technical Journal 27, 1948). Looks-like ISO leaves it
        out: it is the sensor's alone.
        """
        size = self.photosites_px / (delivered_px or self.delivered_px)
        grey_e = self.grey_e_iso / iso
        mu = grey_e * np.exp2(steps.stops)
        rounding = (grey_e * steps.shares * self.gain_px) ** 2 / 12
        changing = mu + float(self.read_e(iso)) ** 2 + dark_e + rounding
        ratio = mu * size / np.sqrt(changing / frames + (self.prnu_share * mu) ** 2)
        above = np.flatnonzero(ratio >= DROWNED_SNR)
        if not len(above) or above[0] == 0:
            return float(steps.stops[0] if len(above) else steps.stops[-1])
        first = int(above[0])
        low, high = log2(ratio[first - 1]), log2(ratio[first])
        share = (log2(DROWNED_SNR) - low) / (high - low)
        below = float(steps.stops[first - 1])
        return below + share * (float(steps.stops[first]) - below)

    def with_sensor_at(self, end: int) -> "NoiseModel":
        """The model with a sensor at the worse (0) or better (1) end of what is typical."""
        well = WELL_RANGE_E_UM2[end] / WELL_E_UM2
        return replace(
            self, full_well_e=self.full_well_e * well, grey_e_iso=self.grey_e_iso * well,
            read_low_e=READ_LOW_RANGE_E[end], read_high_e=READ_HIGH_RANGE_E[end],
        )  # fmt: skip


@lru_cache(maxsize=256)
def noise_model(
    sensor: Sensor, recorded: RecordingFormat, profile: Profile, body_iso_lowest: int
) -> NoiseModel:
    """The model of a sensor behind a profile and a format; what is not known is typical.

    Electrons of grey at ISO S: ``full_well · 2^(−headroom) · S_lowest_base / S``.
    """
    sites = recorded.photosites_px or recorded.width_px
    pitch_um = 1000 * recorded.sensor_width_mm / sites
    full_well = sensor.full_well_e or WELL_E_UM2 * pitch_um**2
    bases = sorted(profile.base_iso) or [body_iso_lowest]
    pair = len(bases) > 1 and log2(bases[-1] / bases[0]) >= c.BASE_PAIR_APART_STOPS
    return NoiseModel(
        full_well_e=full_well,
        read_low_e=READ_LOW_E if sensor.read_low_e is None else sensor.read_low_e,
        read_high_e=READ_HIGH_E if sensor.read_high_e is None else sensor.read_high_e,
        prnu_share=PRNU_SHARE if sensor.prnu_share is None else sensor.prnu_share,
        grey_e_iso=full_well * 2.0 ** -headroom_stops(profile) * bases[0],
        lowest_base=bases[0],
        upper_base=bases[-1] if pair else None,
        photosites_px=sites,
        delivered_px=recorded.width_px,
        assumed=sensor.full_well_e is None,
        pitch_um=pitch_um,
    )


def looks_like_iso(
    model: NoiseModel, iso: int, pulled_stops: float, delivered_px: int, frames: int,
    dark_e: float,
) -> float:  # fmt: skip
    """The ISO at which this body, nominally exposed, shows such noise in the shadows."""
    return float(model.looks_like(iso, pulled_stops, delivered_px, frames, dark_e))


def inside_stops(limit_iso: float, looks_like_iso: float) -> float:
    """Stops by which it is cleaner than the limit; negative beyond it."""
    return log2(limit_iso / looks_like_iso)


def pulled_in_edit_stops(error_stops: float, post_stops: float) -> float:
    """What the edit takes back: the miss, less what the exposure method darkens or lifts."""
    return error_stops - post_stops


def one_stop_more_iso(
    model: NoiseModel, iso: int, pulled_stops: float, delivered_px: int, frames: int,
    dark_e: float,
) -> float:  # fmt: skip
    """What it would look like with a stop more light."""
    return float(model.looks_like(iso, pulled_stops + 1, delivered_px, frames, dark_e))


def shadow_snr(
    model: NoiseModel, iso: int, pulled_stops: float, delivered_px: int, frames: int,
    dark_e: float,
) -> float:  # fmt: skip
    """Signal over noise in the reference shadow."""
    return float(model.snr(iso, SHADOW_STOPS + pulled_stops, delivered_px, frames, dark_e))


def limit_of(model: NoiseModel, iso_ceiling: int) -> float:
    """The looks-like ISO of a person's ceiling, nominally exposed."""
    return float(model.looks_like(iso_ceiling))


def rate_cost_stops(rate_fps: float, against_fps: float) -> float:
    """Stops of light a frame rate takes against another one, at the same shutter angle."""
    return log2(rate_fps / against_fps)


# From so far either way a looks-like ISO is said with its ±.
SPREAD_SAID_STOPS = 0.1
# From so far apart the limit is said by what it looks like too.
LIMIT_DIFFERS_STOPS = 0.1


@dataclass(frozen=True, slots=True)
class Noise:
    """How clean the shadows of a setup come out.

    ``looks_like_iso`` against ``limit_iso``, the person's ceiling nominally exposed;
    ``inside_stops`` is positive where it is cleaner. ``pulled_stops`` is what the edit takes
    back (negative: lifts). ``one_stop_buys_iso`` is what it would be with a stop more light.
    ``floor_stops`` is where tones drown, from grey as placed, ``floor_between`` the same for
    the worse and the better end of what is typical where the sensor was not measured.
    ``iso`` and ``error_stops`` (the miss) are those it is told of: of a run with a ramp, its
    noisiest frame's. ``dark_e`` is what a photosite collects of its own in a long exposure.
    ``spread_stops`` is how far off the looks-like ISO may be, either way, where the sensor was
    not measured: what typical ones spread over.
    """

    model: NoiseModel
    looks_like_iso: float
    limit_iso: float
    inside_stops: float
    pulled_stops: float
    one_stop_buys_iso: float
    floor_stops: float
    shadow_snr: float
    frames: int
    delivered_px: int
    iso: int
    error_stops: float
    floor_between: tuple[float, float] | None = None
    dark_e: float = 0.0
    spread_stops: float = 0.0

    @property
    def looks_like_words(self) -> str:
        """The looks-like ISO as fine as it is known, with how sure it is."""
        text = f"ISO {n.format_estimate(self.looks_like_iso)}"
        if self.spread_stops < SPREAD_SAID_STOPS:
            return text
        return f"{text} ±{n.format_stops(self.spread_stops)}"

    def limit_words(self, ceiling: int) -> str:
        """The person's ceiling, with what it looks like where that is another number.

        At an upper base an ISO is cleaner than its number, and it is that which shadows are held
        against.
        """
        if abs(log2(self.limit_iso / ceiling)) < LIMIT_DIFFERS_STOPS:
            return f"ISO {ceiling}"
        return f"ISO {ceiling}, which looks like ISO {n.format_estimate(self.limit_iso)}"


def noise_of(
    model: NoiseModel, recorded: Profile, *, iso: int, ceiling: int, error_stops: float,
    post_stops: float, delivered_px: int | None, frames: int, dark_e: float = 0.0,
) -> Noise:  # fmt: skip
    """The noise of one setting, recorded on a profile, against a personal ceiling."""
    steps = steps_of_grey(recorded)
    delivered_px = delivered_px or model.delivered_px
    pulled_stops = pulled_in_edit_stops(error_stops, post_stops)
    shown = looks_like_iso(model, iso, pulled_stops, delivered_px, frames, dark_e)
    limit = limit_of(model, ceiling)
    ends = [model.with_sensor_at(end) for end in (0, 1)] if model.assumed else []
    between = [end.floor_stops(iso, delivered_px, frames, dark_e, steps) for end in ends]
    others = [looks_like_iso(e, iso, pulled_stops, delivered_px, frames, dark_e) for e in ends]
    return Noise(
        model=model,
        looks_like_iso=shown,
        limit_iso=limit,
        inside_stops=inside_stops(limit, shown),
        pulled_stops=pulled_stops,
        one_stop_buys_iso=one_stop_more_iso(model, iso, pulled_stops, delivered_px, frames, dark_e),
        floor_stops=model.floor_stops(iso, delivered_px, frames, dark_e, steps),
        shadow_snr=shadow_snr(model, iso, pulled_stops, delivered_px, frames, dark_e),
        frames=frames,
        delivered_px=delivered_px,
        iso=iso,
        error_stops=error_stops,
        floor_between=(between[0], between[1]) if between else None,
        dark_e=dark_e,
        spread_stops=max((abs(log2(other / shown)) for other in others), default=0.0),
    )

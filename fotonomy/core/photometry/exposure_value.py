"""Scene light in any unit a meter shows, all of it turned into EV at ISO 100."""

from dataclasses import dataclass
from math import isfinite, log2

from fotonomy.core.constants import EV_RANGE
from fotonomy.core.errors import RuleError
from fotonomy.core.photometry.stops import aperture_stops, iso_stops, time_stops

# Light meters, ISO 2720:1974.
REFLECTED_K_CD_S_M2 = 12.5
INCIDENT_C_LX_S = 250.0
# EV 0 is one second at f/1 (same standard).
EV_0_S = 1.0


@dataclass(frozen=True, slots=True)
class Ev100:
    """Exposure value at ISO 100."""

    value: float


@dataclass(frozen=True, slots=True)
class Lux:
    """Incident light, in lux."""

    value: float


@dataclass(frozen=True, slots=True)
class Luminance:
    """Reflected light of the metered grey, in cd/m2."""

    value: float


@dataclass(frozen=True, slots=True)
class Metered:
    """Camera settings a meter gave: f-number, time in seconds, ISO."""

    f_number: float
    time_s: float
    iso: float


SceneLight = Ev100 | Lux | Luminance | Metered


def exposure_value(f_number: float, time_s: float) -> float:
    """``EV = log2(N^2/t)``."""
    return aperture_stops(f_number) + time_stops(time_s)


def ev100_of_lux(light_lx: float) -> float:
    """EV100 of light that falls on the subject: ``N^2/t = E*S/C`` with C 250 lx s (ISO 2720)."""
    return log2(light_lx * 100 / INCIDENT_C_LX_S)


def ev100_of_luminance(light_cd_m2: float) -> float:
    """EV100 of a metered grey: ``N^2/t = L*S/K`` with K 12.5 cd s/m2 (ISO 2720:1974)."""
    return log2(light_cd_m2 * 100 / REFLECTED_K_CD_S_M2)


def ev100_of_metered(f_number: float, time_s: float, iso: float) -> float:
    """EV100 of settings a meter gave: ``log2(N^2/t) - log2(S/100)``."""
    return exposure_value(f_number, time_s) - iso_stops(iso)


def ev100_of(light: SceneLight) -> float:
    """EV100 of a scene's light.

    Raises RuleError for light of zero or less, and outside the range a meter knows.
    """
    match light:
        case Ev100():
            ev = light.value
        case Lux() | Luminance():
            if not isfinite(light.value) or light.value <= 0:
                raise RuleError("light", "has to be more than zero", light.value)
            of = ev100_of_lux if isinstance(light, Lux) else ev100_of_luminance
            ev = of(light.value)
        case Metered():
            ev = ev100_of_metered(light.f_number, light.time_s, light.iso)
    if not isfinite(ev) or not EV_RANGE[0] <= ev <= EV_RANGE[1]:
        raise RuleError(
            "light", f"comes to EV {ev:.1f}; scenes lie between EV {EV_RANGE[0]:.0f} "
            f"and EV {EV_RANGE[1]:.0f}", light,
        )  # fmt: skip
    return ev


def illuminance_lx(ev100: float) -> float:
    """Illuminance in lux on a card metered at ``ev100``: ``2.5*2^EV``."""
    return float(INCIDENT_C_LX_S / (100 * EV_0_S) * 2**ev100)


def luminance_cd_m2(ev100: float) -> float:
    """Luminance in cd/m2 of a tone metered at ``ev100``: ``0.125*2^EV``."""
    return float(REFLECTED_K_CD_S_M2 / (100 * EV_0_S) * 2**ev100)

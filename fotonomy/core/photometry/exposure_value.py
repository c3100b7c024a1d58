"""Scene light in any unit a meter shows, all of it turned into EV at ISO 100."""

from dataclasses import dataclass
from math import isfinite, log2

from fotonomy.core.constants import EV_RANGE
from fotonomy.core.errors import RuleError
from fotonomy.core.photometry.stops import aperture_stops, iso_stops, time_stops

# Light meters, ISO 2720:1974.
REFLECTED_K_CD_S_M2 = 12.5
INCIDENT_C_LX_S = 250.0


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


def ev100_of(light: SceneLight) -> float:
    """EV100 of a scene's light.

    Incident ``N^2/t = E*S/C`` with C 250 lx s, reflected ``N^2/t = L*S/K`` with
    K 12.5 cd s/m2 (ISO 2720:1974). Raises RuleError outside the range a meter knows.
    """
    match light:
        case Ev100():
            ev = light.value
        case Lux() | Luminance():
            if not isfinite(light.value) or light.value <= 0:
                raise RuleError("light", "has to be more than zero", light.value)
            constant = INCIDENT_C_LX_S if isinstance(light, Lux) else REFLECTED_K_CD_S_M2
            ev = log2(light.value * 100 / constant)
        case Metered():
            ev = exposure_value(light.f_number, light.time_s) - iso_stops(light.iso)
    if not isfinite(ev) or not EV_RANGE[0] <= ev <= EV_RANGE[1]:
        raise RuleError(
            "light", f"comes to EV {ev:.1f}; scenes lie between EV {EV_RANGE[0]:.0f} "
            f"and EV {EV_RANGE[1]:.0f}", light,
        )  # fmt: skip
    return ev


def illuminance_lx(ev100: float) -> float:
    """Illuminance in lux on a card metered at ``ev100``: ``2.5*2^EV``."""
    return float(INCIDENT_C_LX_S / 100 * 2**ev100)


def luminance_cd_m2(ev100: float) -> float:
    """Luminance in cd/m2 of a tone metered at ``ev100``: ``0.125*2^EV``."""
    return float(REFLECTED_K_CD_S_M2 / 100 * 2**ev100)

"""Units people type, each spelling with its factor to the unit we count in."""

import re

from fotonomy.core.constants import MPH_M_S

SPEED_UNITS = {
    "": 1.0, "m/s": 1.0, "km/h": 1 / 3.6, "kmh": 1 / 3.6, "kph": 1 / 3.6,
    "mph": MPH_M_S, "kn": 1852 / 3600, "kt": 1852 / 3600, "cm/s": 0.01, "mm/s": 0.001,
}  # fmt: skip
LENGTH_UNITS = {"": 1.0, "m": 1.0, "cm": 0.01, "mm": 0.001, "km": 1000.0, "ft": 0.3048,
                "in": 0.0254}  # fmt: skip
SECOND_UNITS = {"": 1.0, "s": 1.0, "sec": 1.0, "ms": 0.001, "min": 60.0, "h": 3600.0}
STOP_UNITS = {"": 1.0, "stop": 1.0, "stops": 1.0, "st": 1.0, "ev": 1.0}
MM_UNITS = {"": 1.0, "mm": 1.0, "cm": 10.0}
KELVIN_UNITS = {"": 1.0, "k": 1.0}

# Settings whose value is shown in the unit it was typed in, with the units they take.
SPOKEN_UNITS = {
    "subject_speed_m_s": SPEED_UNITS, "travel_m_s": SPEED_UNITS,
    "subject_size_m": LENGTH_UNITS, "subject_distance_m": LENGTH_UNITS,
    "subject_depth_m": LENGTH_UNITS, "depth_m": LENGTH_UNITS, "background_m": LENGTH_UNITS,
    "iris": {"T": 1.0},
}  # fmt: skip


def unit_typed(name: str, text: str) -> str:
    """The unit a value of such a setting was typed in, "" for none and for what is usual."""
    units = SPOKEN_UNITS.get(name, {})
    found = re.fullmatch(r"\s*t\s*/?\s*[\d.,]+\s*" if name == "iris" else r".*\d\s*([^\d]*?)\s*",
                         text, flags=re.IGNORECASE)  # fmt: skip
    if not found:
        return ""
    unit = "T" if name == "iris" else found[1].lower()
    return unit if unit == "T" or units.get(unit, 1.0) != 1.0 else ""

"""What the names of the code are called on paper: symbols, units and words.

The names carry their units (``focal_mm``, ``time_s``); a name without a symbol is written in words.
"""

from math import isfinite
from typing import Any

# By the last part of a name. Symbols are those of the trade's handbooks where there are any.
SYMBOLS = {
    "time_s": "t", "exposure_s": "t", "f_number": "N", "iris": "N", "iso": "S", "focal_mm": "f",
    "nd_density": "D", "density": "D", "ev100": "EV", "subject_distance_m": "d", "distance_m": "d",
    "at_m": "d", "front_m": "s", "s_m": "s", "behind_m": "v", "c_mm": "c", "circle_mm": "c",
    "m": "m", "magnification": "m", "hyperfocal_m": "H", "near_m": "near", "far_m": "far",
    "field_m": "w", "field_width_m": "w", "height_m": "h", "field_height_m": "h",
    "speed_m_s": "v", "capture_fps": "fps", "fps": "fps", "frame_rate": "fps",
    "project_fps": "edit fps", "rate_fps": "r", "write_fps": "write rate",
    "pulses_hz": "p", "angle_deg": "angle", "smear_percent": "smear", "step_percent": "step",
    "gap_percent": "gap", "delivered_px": "width px", "width_px": "width px",
    "interval_s": "interval", "screen_s": "screen", "frames": "n", "record_frames": "n",
    "error_stops": "error", "target_stops": "aim", "exposure_stops": "x",
    "headroom_stops": "headroom", "placed_stops": "placed", "scene_stops": "k",
    "declination_deg": "δ", "pitch_mm": "pitch",
    "pitch_um": "pitch", "delivered_pitch_mm": "pixel", "diagonal_mm": "diagonal",
    "sensor_width_mm": "sensor", "sensor_height_mm": "sensor height", "mains_hz": "mains",
    "equivalent_mm": "f₃₅", "stabiliser_stops": "stabiliser", "readout_s": "readout",
    "kelvin": "T", "white_k": "T set", "source_k": "T light", "moment_s": "τ", "passes_s": "every",
    "crop": "crop", "tint_cc": "tint", "mu": "μ", "read_e": "σ read", "snr": "SNR",
    "temperature_c": "air", "air_c": "air", "time": "t", "on_date": "date", "at_clock_min": "at",
    "moved_ev": "EV moved", "plain_ev": "EV plain",
}  # fmt: skip

# By how a name ends, the longest first.
UNITS = (
    ("_clock_min", "clock"), ("_min", "min"), ("_date", "date"),
    ("_percent_s", "%/s"), ("_e_um2", "e⁻/µm²"), ("_mb_s", "MB/s"), ("_m_s", "m/s"),
    ("_deg_s", "°/s"), ("_rad_s", "rad/s"), ("_lx_s", "lx·s"), ("_cd_m2", "cd/m²"),
    ("_percent", "%"), ("_stops", "stops"), ("_mired", "mired"), ("_fps", "fps"), ("_deg", "°"),
    ("_hz", "Hz"),
    ("_mm", "mm"), ("_um", "µm"), ("_px", "px"), ("_mb", "MB"), ("_gb", "GB"), ("_wh", "Wh"),
    ("_lx", "lx"), ("_ev", "EV"), ("_cc", "CC"), ("_s", "s"), ("_m", "m"), ("_w", "W"),
    ("_k", "K"), ("_c", "°C"), ("_e", "e⁻"),
)  # fmt: skip
# Names whose unit is not how they end, or that have none although they end so.
_OWN_UNITS = {
    "frame_rate": "fps", "c_mm": "mm", "ev100": "EV", "frames": "", "headroom": "stops",
    "kelvin": "K", "MPH_M_S": "m/s", "most_e": "",
}  # fmt: skip


def unit_of(name: str) -> str:
    """The unit a name carries; empty for a plain number."""
    last = name.rsplit(".", 1)[-1]
    if last in _OWN_UNITS:
        return _OWN_UNITS[last]
    lower = last.lower()
    return next((unit for end, unit in UNITS if lower.endswith(end)), "")


def words_of(name: str) -> str:
    """A name in words, without its unit: ``record_frames`` is "record frames"."""
    last = name.rsplit(".", 1)[-1].lower()
    end = next((end for end, _ in UNITS if last.endswith(end)), "")
    return (last[: -len(end)] if end and last != end else last).strip("_").replace("_", " ")


def symbol_of(name: str) -> str:
    """What a name is called in a formula."""
    last = name.rsplit(".", 1)[-1]
    return SYMBOLS.get(last) or words_of(name)


def number_text(value: Any, unit: str = "", figures: int = 5) -> str:
    """A number to five figures (or so many) with its unit, as it stands in a working."""
    try:
        # Nothing taken is nothing, and not minus nothing.
        size = float(value) + 0.0
    except (TypeError, ValueError):
        return str(value)
    if not isfinite(size):
        return "no end" if size > 0 else "−∞"
    if unit == "clock":
        return clock_text(size)
    if unit == "date":
        digits = f"{size:08.0f}"
        return f"{digits[:-4]}-{digits[-4:-2]}-{digits[-2:]}"
    text = f"{size:.{figures}g}" if abs(size) < 10**figures else f"{size:.{figures + 2}g}"
    if "e" in text:
        front, power = text.split("e")
        text = f"{front}·10{_raised(str(int(power)))}"
    text = text.replace("-", "−")
    if not unit:
        return text
    return f"{text}{'' if unit == '°' else ' '}{unit}"


def clock_text(minutes: float) -> str:
    """Minutes after a day's first as its clock shows them; those of another day come round."""
    # A clock shows the minute that has begun.
    hours, rest = divmod(int(minutes // 1 + (minutes % 1 > 1 - 1e-6)), 60)
    return f"{hours % 24:02d}:{rest:02d}"


def _raised(text: str) -> str:
    return text.translate(str.maketrans("0123456789-", "⁰¹²³⁴⁵⁶⁷⁸⁹⁻"))


def lowered(text: str) -> str:
    """A whole number as subscripts."""
    return text.translate(str.maketrans("0123456789", "₀₁₂₃₄₅₆₇₈₉"))


def raised(text: str) -> str:
    """Whole numbers as superscripts; anything else after a caret."""
    return _raised(text) if text.isdigit() else f"^{text}"

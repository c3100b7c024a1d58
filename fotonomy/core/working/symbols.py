"""What the names of the code are called on paper: symbols, units and words.

The names carry their units (``focal_mm``, ``time_s``); a name without a symbol is written in words.
"""

from math import isfinite
from typing import Any

# By the last part of a name. Symbols are those of the trade's handbooks where there are any.
SYMBOLS = {
    "time_s": "t", "exposure_s": "t", "f_number": "N", "iris": "N", "exact": "N_exact", "iso": "S",
    "focal_mm": "f", "nd_density": "D", "density": "D", "ev100": "EV", "subject_distance_m": "d",
    "distance_m": "d", "mover.distance_m": "d_there", "movement.camera": "movement",
    "write_mb_s": "card speed",
    "setup.subject_speed_m_s": "v_subject", "at_m": "d", "front_m": "s", "s_m": "s",
    "behind_m": "b", "image_mm": "i", "c_mm": "c", "circle_mm": "c", "m": "m",
    "magnification": "m", "hyperfocal_m": "H", "hyper_m": "H", "near_m": "near", "far_m": "far",
    "field_m": "w", "field_width_m": "w", "height_m": "h", "field_height_m": "h",
    "speed_m_s": "v", "capture_fps": "r", "fps": "r", "rate_fps": "r", "frame_rate": "r_set",
    "project_fps": "r_edit", "setup.project_fps": "r_edit_set", "write_fps": "r_write",
    "pulses_hz": "p", "angle_deg": "angle", "smear_percent": "smear", "step_percent": "step",
    "gap_percent": "gap", "delivered_px": "W", "width_px": "W", "model.delivered_px": "W_recorded",
    "photosites_px": "P", "interval_s": "interval", "screen_s": "screen", "frames": "n",
    "record_frames": "n", "screen_frames": "n_screen", "handle_frames": "n_handle",
    "full_after": "n_full", "error_stops": "miss", "target_stops": "aim", "exposure_stops": "x",
    "headroom_stops": "headroom", "placed_stops": "placed", "scene_stops": "k",
    "declination_deg": "δ", "pitch_mm": "photosite", "pitch_um": "pitch",
    "delivered_pitch_mm": "pixel", "diagonal_mm": "diagonal", "sensor_width_mm": "sensor",
    "sensor_height_mm": "sensor height", "mains_hz": "mains", "equivalent_mm": "f₃₅",
    "stabiliser_stops": "stabiliser", "readout_s": "readout", "readout_ms": "readout_set",
    "kelvin": "T", "white_k": "T_set", "source_k": "T_light", "moment_s": "τ", "passes_s": "every",
    "crop": "crop", "tint_cc": "tint", "mu": "μ", "needed_e": "μ_needed", "read_e": "σ_read",
    "read_low_e": "σ_low", "read_high_e": "σ_high", "prnu_share": "prnu", "grey_e_iso": "G",
    "snr": "SNR", "iso_ceiling": "S_ceiling", "lowest_base": "S_base", "upper_base": "S_upper",
    "temperature_c": "air", "air_c": "air", "time": "t", "on_date": "date", "at_clock_min": "at",
    "moved_ev": "EV_moved", "plain_ev": "EV_plain", "light_lx": "E", "light_cd_m2": "L",
}  # fmt: skip

# The letters of the trade, each with its unit and what it stands for.
LETTERS = {
    "b": ("m", "from the lens to the sensor"),
    "c": ("mm", "the largest blur that still counts as sharp"),
    "D": ("", "density of the ND"),
    "d": ("m", "from the sensor to the subject"),
    "d_back": ("m", "from the lens to the background"),
    "d_there": ("m", "from the sensor to what moves most"),
    "E": ("lx", "light that falls on the subject"),
    "f": ("mm", "focal length, as the lens is focused"),
    "f₃₅": ("mm", "the focal length with the same view on full frame"),
    "G": ("e⁻", "electrons that grey leaves in a photosite at ISO 1"),
    "H": ("m", "hyperfocal distance, from the lens"),
    "h": ("m", "how high the picture is, there"),
    "i": ("mm", "from the lens to the sensor"),
    "k": ("stops", "a tone in the scene, from grey"),
    "L": ("cd/m²", "light that comes from the subject"),
    "m": ("", "how large the subject is drawn on the sensor"),
    "N": ("", "f-number of the iris"),
    "N_exact": ("", "the f-number that is needed, before the lens's own limit"),
    "n": ("", "number of frames"),
    "n_full": ("", "frames until the buffer is full"),
    "n_handle": ("", "frames of one handle"),
    "n_hour": ("", "frames in an hour"),
    "n_screen": ("", "frames that are shown"),
    "P": ("px", "photosites across the sensor, as recorded"),
    "p": ("Hz", "pulses of light a second"),
    "q": ("", "blur at the ends of the depth, in circles of confusion"),
    "r": ("fps", "frames a second"),
    "r_edit": ("fps", "frames a second of the edit"),
    "r_edit_set": ("fps", "frames a second of the edit, as people say them"),
    "r_set": ("fps", "frames a second, as they are set"),
    "r_write": ("fps", "frames a second that the card takes"),
    "S": ("", "ISO"),
    "S_base": ("", "lowest base ISO"),
    "S_ceiling": ("", "the highest ISO you would use"),
    "S_upper": ("", "upper base ISO"),
    "s": ("m", "from the lens to the subject"),
    "T": ("K", "colour of a light"),
    "T_light": ("K", "colour of the main light"),
    "T_set": ("K", "white balance, as it is set"),
    "T_wanted": ("K", "white balance that fits"),
    "t": ("s", "how long the shutter is open for a frame"),
    "v": ("m/s", "how fast it goes across the picture"),
    "v_subject": ("m/s", "how fast the subject goes"),
    "W": ("px", "pixels across the finished picture"),
    "W_recorded": ("px", "pixels across the recording"),
    "w": ("m", "how wide the picture is, there"),
    "x": ("stops", "exposure over nominal"),
    "z": ("", "how many standard deviations count"),
    "δ": ("°", "how far stars are from the equator of the sky"),
    "μ": ("e⁻", "electrons of the tone in a photosite"),
    "μ_needed": ("e⁻", "electrons that would show the same noise"),
    "σ_high": ("e⁻", "read noise at the high gain"),
    "σ_low": ("e⁻", "read noise at the low gain"),
    "σ_read": ("e⁻", "read noise at this ISO"),
    "τ": ("s", "how long the moment lasts"),
}  # fmt: skip

# By how a name ends, the longest first.
UNITS = (
    ("_s_mm_um", "s·mm/µm"), ("_cd_s_m2", "cd·s/m²"), ("_s_mm", "s·mm"), ("_mm_s", "mm/s"),
    ("_m_deg", "m/°"), ("_ms", "ms"), ("_clock_min", "clock"), ("_min", "min"), ("_date", "date"),
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
    "frame_rate": "fps", "fps": "fps", "c_mm": "mm", "ev100": "EV", "frames": "",
    "headroom": "stops",
    "kelvin": "K", "MPH_M_S": "m/s", "most_e": "",
    "COLD_SHARE_A_C": "per °C", "_LUX_AT_0": "lx", "mb_s": "Mb/s", "mu": "e⁻", "grey_e_iso": "e⁻",
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
    return sign_of_its_own(name) or SYMBOLS.get(last) or words_of(name)


def sign_of_its_own(name: str) -> str:
    """The sign of something that is told apart by what it belongs to; empty for anything else."""
    return SYMBOLS.get(".".join(name.split(".")[-2:]), "") if "." in name else ""


# As many figures as a working shows; smaller numbers than this are what rounding leaves.
FIGURES, NOTHING_BELOW = 5, 1e-12
CONSTANT_FIGURES = 7


def number_text(value: Any, unit: str = "", figures: int = FIGURES) -> str:
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
    # What is left of sums of rounded numbers is nothing.
    size = 0.0 if figures == FIGURES and abs(size) < NOTHING_BELOW else size
    text = f"{size:.{figures}g}" if abs(size) < 10**figures else f"{size:.{figures + 2}g}"
    if "e" in text:
        front, power = text.split("e")
        text = f"{front}·10{_raised(str(int(power)))}"
    text = text.replace("-", "−")
    if not unit:
        return text
    return f"{text}{'' if unit == '°' else ' '}{unit}"


def constant_text(value: float, unit: str = "", name: str = "") -> str:
    """A number of a formula itself, to as many figures as make no difference, with its unit."""
    if name.rpartition(".")[2] == "pi":
        return "π"
    text = number_text(value, unit, figures=CONSTANT_FIGURES)
    return text.replace("1·10", "10", 1) if text.startswith("1·10") else text


def clock_text(minutes: float) -> str:
    """Minutes after a day's first as its clock shows them; those of another day come round."""
    # A clock shows the minute that has begun.
    hours, rest = divmod(int(minutes // 1 + (minutes % 1 > 1 - 1e-6)), 60)
    return f"{hours % 24:02d}:{rest:02d}"


def _raised(text: str) -> str:
    return text.translate(str.maketrans("0123456789-", "⁰¹²³⁴⁵⁶⁷⁸⁹⁻"))


def lowered_back(symbol: str) -> tuple[str, str]:
    """A sign and its subscripts as digits: f₃₅ is f and 35."""
    bare = symbol.rstrip("₀₁₂₃₄₅₆₇₈₉")
    low = symbol[len(bare) :].translate(str.maketrans("₀₁₂₃₄₅₆₇₈₉", "0123456789"))
    return bare, low


def raised(text: str) -> str:
    """Whole numbers as superscripts; anything else after a caret."""
    return _raised(text) if text.isdigit() else f"^{text}"

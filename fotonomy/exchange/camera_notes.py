"""What a camera wrote into its file, as far as it makes sense; nothing of people and places.

EXIF 2.32 (CIPA DC-008): ExposureTime, FNumber, PhotographicSensitivity, FocalLength,
DateTimeOriginal, SubSecTimeOriginal, OffsetTimeOriginal, BodySerialNumber, Model.
"""

import re
from collections.abc import Callable
from datetime import datetime
from math import isfinite
from typing import Any

from fotonomy.core.notation.decimals import decimal
from fotonomy.core.notation.texts import without_unkeepable

MOST_NUMBER = 1e7


def number_note(value: Any) -> float | None:
    """A number out of whatever a file has there: 0.02, "1/50", "50.0 mm", "f/4", (1, 50)."""
    if isinstance(value, list | tuple):
        value = value[0] if value else None
    if isinstance(value, str):
        found = re.fullmatch(
            r"\s*(?:f/)?\s*(\d+(?:[.,]\d+)?)(?:\s*/\s*(\d+(?:[.,]\d+)?))?\s*(?:mm|s|sec|fps)?\.?\s*",
            value, re.IGNORECASE,
        )  # fmt: skip
        if found is None:
            return None
        under = decimal(found[2] or "1")
        value = decimal(found[1]) / under if under else None
    try:
        number = float(value)
    except (TypeError, ValueError, ZeroDivisionError, OverflowError):
        return None
    return round(number, 6) if isfinite(number) and 0 < number < MOST_NUMBER else None


def moment_note(date_and_clock: Any, fraction: Any = None) -> str | None:
    """A camera's clock, which has no zone, as ISO 8601: from "2027:06:05 15:20:01"."""
    text = str(date_and_clock or "").strip()[:19].replace("T", " ")
    date, _, clock = text.partition(" ")
    digits = re.match(r"\d{1,6}", str(fraction if fraction is not None else ""))
    micros = int(digits[0].ljust(6, "0")) if digits else 0
    try:
        taken = datetime.fromisoformat(f"{date.replace(':', '-')}T{clock}")
    except ValueError:
        return None
    return taken.replace(tzinfo=None, microsecond=micros).isoformat()


def zone_note(value: Any) -> str | None:
    """A zone such as +10:00."""
    text = str(value or "").strip()
    return text if re.fullmatch(r"[+-](?:0\d|1[0-4]):[0-5]\d", text) else None


def serial_note(value: Any) -> str | None:
    """A number of a body: letters, digits and hyphens, forty at most."""
    return re.sub(r"[^A-Za-z0-9-]", "", str(value or ""))[:40] or None


def model_note(value: Any) -> str | None:
    """What a camera calls itself: forty letters at most, spaces one at a time."""
    text = without_unkeepable(" ".join(str(value or "").split()))
    return "".join(letter for letter in text if letter.isprintable())[:40].strip() or None


def notes(get: Callable[[str], Any]) -> dict[str, Any]:
    """All notes that make sense. ``get`` gives what a file has by EXIF name, None where nothing."""
    found: dict[str, Any] = {
        "exposure_s": number_note(get("ExposureTime")), "f_number": number_note(get("FNumber")),
        "iso": number_note(get("PhotographicSensitivity")),
        "focal_mm": number_note(get("FocalLength")),
        "taken": moment_note(get("DateTimeOriginal"), get("SubSecTimeOriginal")),
        "offset": zone_note(get("OffsetTimeOriginal")),
        "serial": serial_note(get("BodySerialNumber")), "model": model_note(get("Model")),
    }  # fmt: skip
    return {name: value for name, value in found.items() if value is not None}

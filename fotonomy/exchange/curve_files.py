"""Curves as files: one-dimensional .cube tables and CSV, in and out; corrections as .cube."""

import csv
from io import StringIO
from math import isfinite

import numpy as np

from fotonomy.core.curves.sampled import ROW_RANGE, from_pairs
from fotonomy.core.curves.transfer_functions import GREY, Tabulated, Values, encode, linear_of
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.profile import Profile
from fotonomy.core.notation.decimals import with_point
from fotonomy.core.tone.monitor_lut import Correction
from fotonomy.core.tone.night_grade import NightGrade
from fotonomy.core.tone.signal_levels import code_value, headroom_stops
from fotonomy.exchange.errors import ExchangeError

LARGEST_TABLE_BYTES = 8 * 1024 * 1024
# Rows of the curves we write, and nodes a side of the solid ones.
WRITTEN_ROWS, WRITTEN_NODES = 4096, 33


def read_table(raw: bytes, file_name: str, name: str, decodes: bool) -> Tabulated:
    """A curve from a .cube or CSV file; ``decodes`` if the table turns signal into light.

    Signals count from 0 to 1 for 0 to 100 % of the profile's scale. Raises ExchangeError
    naming the file and the line.
    """
    if len(raw) > LARGEST_TABLE_BYTES:
        raise ExchangeError(file_name, f"larger than {LARGEST_TABLE_BYTES // 2**20} MB")
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise ExchangeError(file_name, f"is not text: byte {error.start}") from None
    if "\0" in text:
        raise ExchangeError(file_name, "is not text")
    try:
        if "LUT_1D_SIZE" in text or "LUT_3D_SIZE" in text:
            given, answer = _cube(text, file_name)
            linear, signal = (answer, given) if decodes else (given, answer)
        else:
            linear, signal = _csv(text, file_name)
        return from_pairs(name, linear, signal)
    except RuleError as error:
        raise ExchangeError(file_name, f"the table {error.rule}") from error


def _cube(text: str, file_name: str) -> tuple[Values, Values]:
    """What goes into a one-dimensional .cube table, and what comes out (its green column)."""
    size, low, high = None, 0.0, 1.0
    rows: list[float] = []
    for number, line in enumerate(text.splitlines(), 1):
        words = line.split("#")[0].split()
        if not words:
            continue
        head = words[0].upper()
        place = f"{file_name}, line {number}"
        if head == "LUT_3D_SIZE":
            raise ExchangeError(place, "a solid table mixes colours: it is no curve")
        if head == "LUT_1D_SIZE":
            size = _whole(words, place)
        elif head == "TITLE":
            continue
        elif head in ("DOMAIN_MIN", "LUT_1D_INPUT_RANGE"):
            low = _number(words[1:2], place)
            if head == "LUT_1D_INPUT_RANGE":
                high = _number(words[2:3], place)
        elif head == "DOMAIN_MAX":
            high = _number(words[1:2], place)
        else:
            if len(words) not in (1, 3):
                raise ExchangeError(place, f"expected three numbers, found {line.strip()[:40]!r}")
            rows.append(_number(words[1:2] or words[:1], place))
            if len(rows) > ROW_RANGE[1]:
                raise ExchangeError(place, f"more than {ROW_RANGE[1]} rows")
    if size is None or size != len(rows):
        raise ExchangeError(file_name, f"says {size} rows and has {len(rows)}")
    if not high > low:
        raise ExchangeError(file_name, f"its domain runs from {low:g} to {high:g}")
    return np.linspace(low, high, size), np.asarray(rows)


def _whole(words: list[str], place: str) -> int:
    value = _number(words[1:2], place)
    if value != int(value) or not ROW_RANGE[0] <= value <= ROW_RANGE[1]:
        raise ExchangeError(place, f"a table of {ROW_RANGE[0]} to {ROW_RANGE[1]} rows")
    return int(value)


def _number(words: list[str], place: str) -> float:
    try:
        value = float(words[0])
    except (ValueError, IndexError):
        raise ExchangeError(place, "expected a number") from None
    if not isfinite(value):
        raise ExchangeError(place, "expected a number")
    return value


# Columns by their headings: what they count in, as a factor or a function.
_LIGHT = {"linear": lambda x: x, "stops": lambda x: GREY * 2.0**x}
_SIGNAL = {"signal": 1.0, "percent": 0.01}


def _csv(text: str, file_name: str) -> tuple[Values, Values]:
    """Light and signal from CSV: headings linear or stops, and signal or percent."""
    first = next((line for line in text.splitlines() if line.strip()), "")
    mark = next((m for m in (";", "\t", ",") if m in first), ",")
    try:
        # Whatever ends its lines: the reader knows one kind of end only.
        lines = csv.reader(text.splitlines(), delimiter=mark, strict=True)
        rows = [
            (number, [cell.strip() for cell in row])
            for number, row in enumerate(lines, 1)
            if row and any(cell.strip() for cell in row) and not row[0].lstrip().startswith("#")
        ]
    except csv.Error as error:
        raise ExchangeError(file_name, f"is no table of two columns: {error}") from error
    if not rows:
        raise ExchangeError(file_name, "holds no table")
    names = [cell.casefold() for cell in rows[0][1]]
    light_at, light, signal_at, signal = 0, "linear", 1, "signal"
    if any(name in _LIGHT or name in _SIGNAL for name in names):
        light = next((name for name in names if name in _LIGHT), "")
        signal = next((name for name in names if name in _SIGNAL), "")
        if not light or not signal:
            raise ExchangeError(
                f"{file_name}, line {rows[0][0]}",
                "needs a column linear or stops, and a column signal or percent",
            )
        light_at, signal_at = names.index(light), names.index(signal)
        rows = rows[1:]
    if len(rows) > ROW_RANGE[1]:
        raise ExchangeError(file_name, f"more than {ROW_RANGE[1]} rows")
    found = []
    for number, cells in rows:
        place = f"{file_name}, line {number}"
        if len(cells) <= max(light_at, signal_at):
            raise ExchangeError(place, "needs two numbers")
        pair = [cells[light_at], cells[signal_at]]
        found.append([_number([c if mark == "," else with_point(c)], place) for c in pair])
    table = np.asarray(found, dtype=np.float64).reshape(-1, 2)
    with np.errstate(over="ignore"):
        return np.asarray(_LIGHT[light](table[:, 0])), table[:, 1] * _SIGNAL[signal]


def write_csv(profile: Profile) -> str:
    """A profile's curve as CSV: stops from its grey, light, signal, percent and code."""
    out = StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["stops", "linear", "signal", "percent", "code"])
    stops = np.linspace(-10, headroom_stops(profile), 512)
    light = profile.grey_linear * 2.0**stops
    for stop, x, y in zip(stops, light, encode(profile.curve, light), strict=True):
        code = code_value(100 * float(y), profile)
        writer.writerow([f"{stop:.4f}", f"{x:.8g}", f"{y:.8f}", f"{100 * y:.4f}", code])
    # The stops column is from grey at 0.18 only where the profile leaves grey there.
    return out.getvalue() if profile.grey_percent is None else _without_stops(out.getvalue())


def _without_stops(text: str) -> str:
    return "\n".join(line.partition(",")[2] for line in text.splitlines()) + "\n"


def write_cube(profile: Profile, decodes: bool) -> str:
    """A profile's curve as a one-dimensional .cube: light to signal, or signal to light."""
    if decodes:
        given = np.linspace(0, max(1.0, profile.clip_percent / 100), WRITTEN_ROWS)
        answer = linear_of(profile.curve, given)
        title = f"{profile.name}: signal to linear light"
    else:
        given = np.linspace(0, profile.clip_linear, WRITTEN_ROWS)
        answer = encode(profile.curve, given)
        title = f"{profile.name}: linear light to signal"
    head = [f"LUT_1D_SIZE {WRITTEN_ROWS}", *_domain(float(given[0]), float(given[-1]))]
    return _written(title, head, np.repeat(answer[:, None], 3, axis=1))


def write_correction(profile: Profile, correction: Correction, solid: bool) -> str:
    """A monitoring correction, profile to BT.709, as a 1D .cube or one of 33 nodes a side."""
    top = max(1.0, profile.clip_percent / 100)
    title = f"{profile.name} to BT.709, {correction.words}"
    if not solid:
        given = np.linspace(0, top, WRITTEN_ROWS)
        answer = correction.apply(profile, given)
        head = [f"LUT_1D_SIZE {WRITTEN_ROWS}", *_domain(0, top)]
        return _written(title, head, np.repeat(answer[:, None], 3, axis=1))
    axis = correction.apply(profile, np.linspace(0, top, WRITTEN_NODES))
    # Red runs fastest in a .cube file.
    blue, green, red = np.meshgrid(axis, axis, axis, indexing="ij")
    head = [f"LUT_3D_SIZE {WRITTEN_NODES}", *_domain(0, top)]
    return _written(title, head, np.stack([red.ravel(), green.ravel(), blue.ravel()], axis=1))


def write_night(profile: Profile, grade: NightGrade) -> str:
    """Dusk made into night, profile to BT.709, as a .cube of 33 nodes a side."""
    top = max(1.0, profile.clip_percent / 100)
    axis = np.linspace(0, top, WRITTEN_NODES)
    # Red runs fastest in a .cube file.
    blue, green, red = np.meshgrid(axis, axis, axis, indexing="ij")
    rows = grade.apply(profile, np.stack([red.ravel(), green.ravel(), blue.ravel()], axis=1))
    head = [f"LUT_3D_SIZE {WRITTEN_NODES}", *_domain(0, top)]
    return _written(f"{profile.name}, dusk for night: {grade.words}", head, rows)


def _domain(low: float, high: float) -> list[str]:
    return [f"DOMAIN_MIN {low:g} {low:g} {low:g}", f"DOMAIN_MAX {high:.9g} {high:.9g} {high:.9g}"]


def _written(title: str, head: list[str], rows: Values) -> str:
    safe = title.replace('"', "'").replace("\n", " ")
    lines = [f"{r:.7f} {g:.7f} {b:.7f}" for r, g, b in rows]
    return "\n".join([f'TITLE "{safe}"', *head, *lines]) + "\n"

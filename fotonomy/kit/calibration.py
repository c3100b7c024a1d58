"""Measuring a body's noise from grey frames, and keeping what came of it."""

from dataclasses import dataclass, replace
from datetime import date
from typing import Any

from django.core.files.uploadedfile import UploadedFile

from fotonomy.core.errors import RuleError
from fotonomy.core.gear.body import RecordingFormat, Sensor
from fotonomy.core.gear.profile import Profile as Spec
from fotonomy.core.notation.reading import parse_iso
from fotonomy.core.tone.noise import noise_model
from fotonomy.core.tone.photon_transfer import MOST_PAIRS, Fit, Group, fit, measure, per_photosite
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.pictures import LARGEST_PICTURE_BYTES, Frame, read_frame
from fotonomy.kit.models import Body
from fotonomy.simulators.camera import grey_frame

# The stand-in camera's sensor, invented: what a calibration of it should find.
STAND_IN = Sensor(full_well_e=52_000.0, read_low_e=4.6, read_high_e=1.9, prnu_share=0.006)
# Light on its grey wall, from one side to the other, in stops over grey.
STAND_IN_STOPS = (-4.0, 1.6)


@dataclass(frozen=True, slots=True)
class Pair:
    """One line of the form: an ISO and two frames."""

    number: int
    iso: str
    first: "UploadedFile[bytes] | None"
    second: "UploadedFile[bytes] | None"

    @property
    def empty(self) -> bool:
        """True if nothing was put in."""
        return not (self.iso.strip() or self.first or self.second)


@dataclass(slots=True)
class Measured:
    """What came of the pairs: a fit, or errors by the line's number."""

    fit: Fit | None
    errors: dict[int, str]
    isos: tuple[int, ...] = ()


def measure_pairs(pairs: list[Pair], profile: Spec, body: Body) -> Measured:
    """Measure what was uploaded; each error stands by its line, and nothing is kept."""
    groups: list[Group] = []
    errors: dict[int, str] = {}
    isos: list[int] = []
    for pair in pairs[:MOST_PAIRS]:
        if pair.empty:
            continue
        try:
            iso = parse_iso(pair.iso)
            groups += _measured(pair, profile, iso)
            isos.append(iso)
        except (ExchangeError, RuleError) as error:
            said = error.problem if isinstance(error, ExchangeError) else error.rule
            place = f"{error.place}: " if isinstance(error, ExchangeError) else ""
            errors[pair.number] = f"{place}{said}"
    if errors:
        return Measured(None, errors)
    if not groups:
        return Measured(None, {1: "Two frames of the same grey, and the ISO they were taken at"})
    try:
        return Measured(fit(tuple(groups), profile, body.iso_lowest), {}, tuple(isos))
    except RuleError as error:
        return Measured(None, {1: error.rule})


def _measured(pair: Pair, profile: Spec, iso: int) -> tuple[Group, ...]:
    if pair.first is None or pair.second is None:
        raise RuleError("frames", "needs both frames of the pair")
    first, second = _read(pair.first), _read(pair.second)
    if (first.width, first.height) != (second.width, second.height):
        raise RuleError(
            "frames", f"the two frames differ in size: {first.width} x {first.height} and "
            f"{second.width} x {second.height} px",
        )  # fmt: skip
    if first.pixels.dtype.itemsize == 1 and profile.bits > 8:
        profile = replace(profile, bits=8)
    return measure(first.pixels, second.pixels, profile, iso)


def _read(upload: "UploadedFile[bytes]") -> Frame:
    return read_frame(upload.read(LARGEST_PICTURE_BYTES + 1), (upload.name or "a frame")[:80])


def stand_in_frame(body: Body, profile: Spec, iso: int, number: int) -> Any:
    """A frame of the stand-in camera behind this body's first format and a profile."""
    recorded = replace(body.to_spec().formats[0], photosites_px=None)
    model = noise_model(STAND_IN, recorded, profile, body.iso_lowest)
    return grey_frame(model, profile, iso, STAND_IN_STOPS, seed=1000 * iso + number)


def measure_stand_in(body: Body, profile: Spec) -> Measured:
    """The stand-in camera measured at the profile's bases and two stops over them."""
    groups: list[Group] = []
    isos = stand_in_isos(body, profile)
    for iso in isos:
        first, second = (stand_in_frame(body, profile, iso, k) for k in (1, 2))
        groups += measure(first, second, profile, iso)
    return Measured(fit(tuple(groups), profile, body.iso_lowest), {}, isos)


def stand_in_isos(body: Body, profile: Spec) -> tuple[int, ...]:
    """Each base and two stops over it, as far as the body goes."""
    bases = sorted(profile.base_iso) or [body.iso_lowest]
    found = {iso for base in bases for iso in (base, 4 * base)}
    return tuple(sorted(iso for iso in found if iso <= max(body.iso_highest, bases[0])))


def sensor_columns(found: Fit, recorded: RecordingFormat) -> dict[str, float | None]:
    """The numbers of a fit as a body keeps them, a photosite."""
    sites = recorded.photosites_px or recorded.width_px
    sensor = per_photosite(found.sensor, (sites / recorded.width_px) ** 2)
    return {
        name: None if (value := getattr(sensor, name)) is None else float(f"{value:.4g}")
        for name in Body.SENSOR
    }


def keep(body: Body, columns: dict[str, float | None], words: str, day: date) -> None:
    """Keep measured numbers as the body's own."""
    for name in Body.SENSOR:
        if columns.get(name) is not None:
            setattr(body, name, columns[name])
    body.sensor_source = f"measured {day:%d %B %Y}, {words}"[:160]
    body.save(update_fields=[*Body.SENSOR, "sensor_source"])

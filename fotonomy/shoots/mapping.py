"""From rows to the core's specs and back, and to snapshots for the history."""

from collections.abc import Iterable
from dataclasses import dataclass, fields
from datetime import UTC, datetime
from types import NoneType
from typing import Annotated, Any, get_args, get_origin

from cattrs import BaseValidationError
from django.db.models import Prefetch, QuerySet

from fotonomy.core.day.blocks import moment_of
from fotonomy.core.day.travel_time import distance_m
from fotonomy.core.errors import RuleError
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.ranges import hints_of
from fotonomy.core.sky.light import LightReading, PlaceLight
from fotonomy.core.sky.track import Sky
from fotonomy.core.spec import setup as core
from fotonomy.core.spec.intent import Intent
from fotonomy.core.weather.report import Weather
from fotonomy.exchange.converter import from_data, to_data
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.setup_json import FilePlace, SetupFile
from fotonomy.exchange.weather_files import report_from_data, report_to_data
from fotonomy.kit.models import Body, Lens, Profile
from fotonomy.shoots.models import Change, Day, DayWeather, Place, Setup, Shoot
from fotonomy.shoots.packed_kit import PackedKit, packed_kit
from fotonomy.sky.ephemeris import NoSkyError, sky_of_day

_HINTS = hints_of(core.Setup)
# Columns of a row that are fields of the core's Setup under the same name. The gear is rows of
# its own, and the shutter two columns.
COLUMNS = tuple(
    column.name for column in Setup._meta.concrete_fields
    if column.name in {field.name for field in fields(core.Setup)} and not column.is_relation
)  # fmt: skip


def _plain(hint: Any) -> Any:
    """The type of a column that holds a plain number, word or truth; None for any other."""
    bare = get_args(hint)[0] if get_origin(hint) is Annotated else hint
    kinds = set(get_args(bare) or (bare,)) - {NoneType}
    return kinds.pop() if len(kinds) == 1 and kinds <= {str, int, float, bool} else None


# Columns that hold a plain value, and those that are kept as JSON or as a word of a list, which
# the converter reads. The intent has the methods of its shoot in it (intent_of).
PLAIN = {name: kind for name in COLUMNS if (kind := _plain(_HINTS[name]))}
DECODED = tuple(name for name in COLUMNS if name not in PLAIN and name != "intent")
# What else stands in a snapshot as it is.
PLAIN_COLUMNS = (
    *COLUMNS, "position", "body_id", "lens_id", "profile_id", "shutter_angle_deg",
    "shutter_time_s", "notes",
)  # fmt: skip
# Methods a shoot chooses and a setup may choose otherwise.
METHODS = ("look", "handheld", "circle", "exposing", "white_school")


def whole_rows(shoot: Shoot) -> QuerySet[Setup]:
    """A shoot's setups with all they need to be planned; the number of queries is constant."""
    return shoot.setups.planned().prefetch_related(
        "place__light_readings", Prefetch("day__weathers", weathers_with_places())
    )


def weathers_with_places() -> QuerySet[DayWeather]:
    """The weathers of days, each with the place it was seen from."""
    return DayWeather.objects.select_related("place")


def fresh_row(row: Setup) -> Setup:
    """The row as it stands now, read and locked inside the transaction that is going to write it.

    Raises Setup.DoesNotExist where it was deleted meanwhile, or is not this shoot's or owner's.
    Who acts stays who acted.
    """
    rows = Setup.objects.select_for_update(of=("self", "shoot"))
    rows = rows.select_related("shoot").planned().annotate(has_undone=Change.undone_of("shoot"))
    found = rows.get(pk=row.pk, shoot_id=row.shoot_id, shoot__owner_id=row.shoot.owner_id)
    found.shoot.actor, found.shoot.owner = row.shoot.actor, row.shoot.owner
    found.shoot.has_undone = found.__dict__["has_undone"]
    return found


def intent_of(row: Setup) -> Intent:
    """What a setup wants; methods it does not choose are its shoot's."""
    methods = {name: getattr(row.shoot, name) for name in METHODS}
    return from_data({**methods, **row.intent}, Intent)


class UnplannableError(RuleError):
    """A stored setup breaks a rule: its own bench says which; the other pages go on."""


@dataclass(frozen=True, eq=False)
class PlaceAndDay:
    """The light and the weather of a place on a day, worked out once for all setups there."""

    daylight: PlaceLight | None
    weather: Weather | None

    @classmethod
    def of(cls, place: Place, day: Day) -> "PlaceAndDay":
        """Both as they stand; no weather gets under a roof."""
        weather = weather_of(place, day)
        light = daylight_of(place, day, weather)
        return cls(light, None if place.roofed else weather)


# For what does not depend on the light or the weather: the settings as text, say.
NO_LIGHT = PlaceAndDay(None, None)


def spec_of(row: Setup, packed: PackedKit, there: PlaceAndDay | None = None) -> core.Setup:
    """A row as the core plans it. Raises UnplannableError where what is stored breaks a rule.

    ``there`` is the light of its place and day, where somebody has it.
    """
    try:
        return _spec_of(row, packed, there or PlaceAndDay.of(row.place, row.day))
    except RuleError as error:
        raise UnplannableError(error.field, error.rule, error.value) from error
    except (ValueError, TypeError, LookupError, ArithmeticError, BaseValidationError) as error:
        raise UnplannableError("setup", f"holds what cannot be read: {error}"[:300]) from error


def planned_setups(shoot: Shoot) -> dict[int, tuple[core.Setup, Setup]]:
    """Every setup of a shoot that can be planned, by its id, with its row.

    What its rules refuse is left out: its own bench says what is wrong.
    """
    packed, found = packed_kit(shoot), {}
    for row in whole_rows(shoot):
        row.shoot = shoot
        try:
            found[row.pk] = (spec_of(row, packed), row)
        except UnplannableError:
            continue
    return found


def is_plannable(row: Setup, packed: PackedKit) -> bool:
    """False where what is stored breaks a rule."""
    try:
        spec_of(row, packed)
    except UnplannableError:
        return False
    return True


def _spec_of(row: Setup, packed: PackedKit, there: PlaceAndDay) -> core.Setup:
    packed.put_gear(row)
    given = {name: from_data(getattr(row, name), _HINTS[name]) for name in DECODED}
    for name, kind in PLAIN.items():
        value = getattr(row, name)
        given[name] = None if value is None else kind(value)
    return core.Setup(
        project_fps=row.shoot.project_fps,
        mains_hz=row.place.mains_hz,
        intent=intent_of(row),
        body=packed.spec(Body, row.body_id),
        lens=packed.spec(Lens, row.lens_id),
        tubes=tuple(packed.tubes[pk] for pk in row.thing_ids if pk in packed.tubes),
        devices=tuple(packed.devices[pk] for pk in row.thing_ids if pk in packed.devices),
        packed_devices=tuple(d for pk, d in packed.devices.items() if pk not in row.thing_ids),
        starts=starts_of(row),
        site=row.place.site,
        daylight=there.daylight,
        weather=there.weather,
        packed_lenses=() if "lens" in row.held else packed.lenses,
        profile=packed.spec(Profile, row.profile_id),
        glass=packed.nd,
        holders=packed.holders,
        filters=tuple(packed.others[pk] for pk in row.filter_ids if pk in packed.others),
        shutter=Shutter(angle_deg=row.shutter_angle_deg, time_s=row.shutter_time_s),
        **given,
    )


def starts_of(row: Setup) -> datetime | None:
    """When a setup is planned to start, on the clock of its place."""
    if row.planned_time is None:
        return None
    day, zone = row.day, row.place.zone
    return moment_of(day.midnight(zone), row.planned_time, day.call, day.wrap).astimezone(zone)


# The sky is asked for from a day's midnight on: its night, and the run that goes on in it.
SKY_HOURS = 48


def sky_of(place: Place, day: Day) -> Sky | None:
    """The sky over a place from a day's midnight on; None without degrees or an ephemeris."""
    site = place.site
    if site is None:
        return None
    try:
        return sky_of_day(
            site.latitude_deg, site.longitude_deg, place.height_m,
            day.midnight(place.zone).astimezone(UTC), SKY_HOURS,
        )  # fmt: skip
    except NoSkyError:
        return None


def daylight_of(place: Place, day: Day, weather: Weather | None = None) -> PlaceLight | None:
    """The light of a place on a day of the shoot, bent by readings taken there; None as above.

    ``weather`` is that of the place and day, where somebody has it.
    """
    sky = sky_of(place, day)
    if sky is None:
        return None
    readings = []
    for reading in place.light_readings.all():
        try:
            found = LightReading.under(_sky_at(place, reading.at), reading.at, reading.ev100)
        except NoSkyError:
            continue
        readings.append(found)
    weather = weather or weather_of(place, day)
    cloud = None if weather is None else weather.over(sky)
    return PlaceLight(sky, place.own_ev100, cloud, tuple(readings))


# So far the weather of one place speaks for another: common practice, no source.
WEATHER_REACH_M = 30_000.0


def weather_row(place: Place, day: Day) -> DayWeather | None:
    """What was said of a day's weather at a place; else that of the nearest place within reach."""
    rows = [row for row in _weathers(day) if row.hours]
    own = next((row for row in rows if row.place_id == place.pk), None)
    if own is not None or place.site is None:
        return own
    here = place.site
    apart = {row.pk: distance_m(here, row.place.site) for row in rows if row.place.site}
    near = [row for row in rows if apart.get(row.pk, WEATHER_REACH_M + 1) <= WEATHER_REACH_M]
    return min(near, key=lambda row: apart[row.pk], default=None)


def _weathers(day: Day) -> Iterable[DayWeather]:
    if "weathers" in getattr(day, "_prefetched_objects_cache", {}):
        return day.weathers.all()
    return day.weathers.select_related("place")


def weather_of(place: Place, day: Day) -> Weather | None:
    """The weather of a place on a day; None where nobody said anything, or it cannot be read."""
    row = weather_row(place, day)
    return None if row is None else reports_of(row)


def reports_of(row: DayWeather) -> Weather | None:
    """A row's reports; None where what is stored cannot be read."""
    try:
        found = (report_from_data(one) for one in row.hours.values())
        return Weather(tuple(sorted(found, key=lambda one: one.at)))
    except (ExchangeError, RuleError):
        return None


def hours_of(weather: Weather) -> dict[str, Any]:
    """The inverse: reports as a row keeps them, each under its moment."""
    return {one.at.isoformat(): report_to_data(one) for one in weather.reports}


def _sky_at(place: Place, when: datetime) -> Sky:
    """The sky of the hours around a moment."""
    site = place.site
    assert site is not None
    midnight = when.astimezone(UTC).replace(hour=0, minute=0, second=0, microsecond=0)
    return sky_of_day(site.latitude_deg, site.longitude_deg, place.height_m, midnight, 24)


def write_spec(row: Setup, spec: core.Setup) -> None:
    """Put a spec's settings into a row; its gear is the row's own affair.

    A method is kept only where the row chose one, or where it is not its shoot's.
    """
    for name in COLUMNS:
        if name != "intent":
            setattr(row, name, to_data(getattr(spec, name), _HINTS[name]))
    row.intent = {
        key: value
        for key, value in to_data(spec.intent, Intent).items()
        if key not in METHODS or key in row.intent or value != getattr(row.shoot, key)
    }
    row.shutter_angle_deg = spec.shutter.angle_deg
    row.shutter_time_s = spec.shutter.time_s


def file_of(row: Setup, packed: PackedKit) -> SetupFile:
    """A row as a setup file."""
    time = row.planned_time.strftime("%H:%M") if row.planned_time else None
    site = row.place.site
    place = FilePlace(
        date=row.day.date.isoformat(), time_zone=row.place.time_zone,
        latitude_deg=site.latitude_deg if site else None,
        longitude_deg=site.longitude_deg if site else None,
    )  # fmt: skip
    return SetupFile(spec_of(row, packed), time, row.notes, place)


def snapshot(row: Setup) -> dict[str, Any]:
    """Everything about a row, as JSON data."""
    data = {name: getattr(row, name) for name in PLAIN_COLUMNS}
    data["place_id"], data["day_id"] = row.place_id, row.day_id
    data["scene_id"] = row.scene_id
    data["planned_time"] = row.planned_time.isoformat() if row.planned_time else None
    data["filters"] = list(row.filter_ids)
    data["things"] = list(row.thing_ids)
    return data

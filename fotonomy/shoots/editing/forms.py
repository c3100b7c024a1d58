"""Forms: text as people type it, read by the core's notation."""

from collections.abc import Callable
from datetime import date
from typing import Any
from zoneinfo import available_timezones

from django import forms

from fotonomy.core.constants import RATE_RANGE_FPS
from fotonomy.core.errors import RuleError
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import (
    parse_frame_rate,
    parse_quantity,
)
from fotonomy.kit.forms.base import ModelForm
from fotonomy.shoots.mapping import METHODS
from fotonomy.shoots.models import MAINS_HZ, Shoot
from fotonomy.sky.ephemeris import NoSkyError, check_day


def sentence(rule: str) -> str:
    """A rule as it stands beside a field."""
    return f"{rule[:1].upper()}{rule[1:]}"


class NotationField(forms.CharField):
    """A value typed in the trade's notation, read by one of the core's parsers."""

    def __init__(self, parse: Callable[[str], Any], **options: Any) -> None:
        super().__init__(strip=True, **{"max_length": 200, **options})
        self.parse = parse

    def to_python(self, value: Any) -> Any:
        text = super().to_python(value)
        if not text and not self.required:
            return None
        try:
            return self.parse(text or "")
        except RuleError as error:
            raise forms.ValidationError(sentence(error.rule)) from error

    def prepare_value(self, value: Any) -> Any:
        """A number from the database as people write it; typed text as it was typed."""
        if not isinstance(value, int | float):
            return value
        return n.format_number(value, 6).replace("−", "-")

    def validate(self, value: Any) -> None:
        """The parser has the last word; an empty text was already refused by it."""

    def run_validators(self, value: Any) -> None:
        """Nothing to add: values are no longer text."""


def parse_place_number(low: float, high: float, what: str) -> Callable[[str], float]:
    """A parser for degrees; a comma is a decimal point, a letter says the hemisphere."""

    def parse(text: str) -> float:
        compact = text.strip().upper().replace("°", "")
        sign = -1.0 if compact[-1:] in ("S", "W") else 1.0
        return sign * parse_quantity(
            "place", compact.rstrip("NSEW").strip(), {"": 1.0}, (low, high), what
        )

    return parse


class WhereForm(forms.Form):
    """Where a place is: degrees, zone and mains. Both degrees or neither."""

    latitude_deg = NotationField(
        parse_place_number(-90, 90, "degrees from -90 to 90, such as -43.12 or 43.12 S"),
        label="Latitude, °",
        required=False,
        help_text="such as 43.12 S; empty where the sun does not matter",
    )
    longitude_deg = NotationField(
        parse_place_number(-180, 180, "degrees from -180 to 180, such as 147.05 or 147.05 E"),
        label="Longitude, °",
        required=False,
        help_text="such as 147.05 E",
    )
    time_zone = forms.CharField(
        max_length=64, initial="UTC", help_text="such as Australia/Hobart",
        widget=forms.TextInput(attrs={"list": "time-zones", "autocomplete": "off"}),
    )  # fmt: skip
    mains_hz = forms.TypedChoiceField(
        choices=MAINS_HZ, coerce=int, initial=50, label="Mains",
        help_text="what lamps pulse with, twice a period",
    )  # fmt: skip

    time_zones = sorted(available_timezones())

    def clean(self) -> dict[str, Any]:
        """Both degrees, or neither."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        where = {name: data.get(name) for name in ("latitude_deg", "longitude_deg")}
        if not any(where.values()):
            # Nobody films where the equator meets the first meridian: nothing was said.
            data.update(dict.fromkeys(where))
        for name, degrees in where.items():
            if degrees is None and any(where.values()) and not self.errors:
                self.add_error(name, "Both or neither: the sun needs the two of them")
        return data

    def clean_time_zone(self) -> str:
        """A name the time zone database knows."""
        name: str = self.cleaned_data["time_zone"].strip()
        if name not in available_timezones():
            raise forms.ValidationError("A time zone name such as Australia/Hobart or UTC")
        return name


def checked_day(day: date) -> date:
    """A day that the ephemeris covers; a ValidationError says which those are."""
    try:
        check_day(day)
    except NoSkyError as error:
        raise forms.ValidationError(sentence(error.rule)) from error
    return day


# What a shoot's form knows of its first place, beside the place's name.
WHERE = ("latitude_deg", "longitude_deg", "time_zone", "mains_hz")


class ShootNameForm(ModelForm):
    """What a shoot is by itself: its name, its edit frame rate, and the methods it goes by."""

    project_fps = NotationField(
        parse_frame_rate, label="Edit frame rate, fps", initial="25",
        help_text="frames a second, such as 25 or 23.976",
    )  # fmt: skip

    class Meta:
        model = Shoot
        fields = ["name", "project_fps", *METHODS]
        labels = {
            "look": "Shutter method", "handheld": "Handheld method",
            "exposing": "Method of exposing", "white_school": "White balance by",
        }  # fmt: skip
        help_texts = {"look": "what its setups aim at, unless one chooses otherwise"}

    use_required_attribute = False

    def __init__(self, *arguments: Any, **options: Any) -> None:
        super().__init__(*arguments, **options)
        for name in METHODS:
            # Left out or left empty, a method stays what it is.
            self.fields[name].required = False

    def clean(self) -> dict[str, Any]:
        """A method that was left empty keeps what it was."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        for name in METHODS:
            data[name] = data.get(name) or getattr(self.instance, name)
        return data

    def clean_project_fps(self) -> float:
        """At least one frame a second: this is what the edit plays at."""
        rate: float = self.cleaned_data["project_fps"]
        if not 1 <= rate <= RATE_RANGE_FPS[1]:
            raise forms.ValidationError("Frames a second, such as 25 or 23.976")
        return rate


class ShootForm(WhereForm, ShootNameForm):
    """A shoot with its first day and its first place."""

    date = forms.DateField(widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"))
    place_name = forms.CharField(
        max_length=80, required=False, label="Place",
        help_text="a town finds its degrees, zone and mains; any name is good",
    )  # fmt: skip

    # The order on the page; also what may be filled in beforehand.
    field_order = ("name", "date", "place_name", *WHERE, "project_fps", *METHODS)

    def __init__(self, *arguments: Any, **options: Any) -> None:
        shoot = options.get("instance")
        if shoot is not None:
            place = shoot.main_place
            where = {name: getattr(place, name) for name in WHERE}
            present = {"date": shoot.date, "place_name": place.name, **where}
            options["initial"] = {**present, **(options.get("initial") or {})}
        super().__init__(*arguments, **options)

    def clean_date(self) -> Any:
        """A day near enough for the sky over it to be known."""
        return checked_day(self.cleaned_data["date"])

    def of_shoot(self) -> dict[str, Any]:
        """What was filled in of the shoot itself."""
        return {name: self.cleaned_data[name] for name in self.Meta.fields}

    def of_place(self) -> dict[str, Any]:
        """What was filled in of its first place."""
        where = {name: self.cleaned_data[name] for name in WHERE}
        return {"name": self.cleaned_data["place_name"], **where}

"""Forms: text as people type it, read by the core's notation."""

from collections.abc import Callable
from typing import Any
from zoneinfo import available_timezones

from django import forms
from django.contrib.auth.models import AbstractBaseUser

from fotonomy.core.constants import RATE_RANGE_FPS
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.support import Support
from fotonomy.core.motion.camera_movement import Camera
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import (
    parse_distance,
    parse_focal,
    parse_frame_rate,
    parse_handle,
    parse_light,
    parse_quantity,
    parse_screen_time,
    parse_speed,
)
from fotonomy.core.parsing import intent as wishes
from fotonomy.core.parsing import white_balance as tastes
from fotonomy.core.spec.intent import CRITERIA, Circle, Exposing, Handheld, Look, WhiteSchool
from fotonomy.core.spec.setup import HOLDABLE, Kind
from fotonomy.kit.models import Accessory, Body, Filter, Lens, Profile
from fotonomy.shoots.editing.stills import CHOICES, PARSERS, TICKS
from fotonomy.shoots.mapping import SCHOOLS
from fotonomy.shoots.models import Shoot, schools

# A light curve of as many points as a run takes.
LONGEST_TEXT = 2000


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


def _name(value: str) -> str:
    text = value.strip()
    if not text:
        raise RuleError("name", "a word or two, such as skin", value)
    return text[:40]


class ManyOrNoneField(forms.ModelMultipleChoiceField):
    """Several rows by name; an empty entry is the marker that lets "none" be sent."""

    def clean(self, value: Any) -> list[Any]:
        return list(super().clean([name for name in value or () if name]))


class BenchForm(forms.Form):
    """Everything on the bench but the five settings, which the core reads itself.

    Only the fields that were sent are looked at: an absent one stays as it is.
    """

    code = forms.CharField(max_length=8, required=False)
    title = forms.CharField(max_length=80, required=False)
    kind = forms.ChoiceField(choices=[(kind.value, kind.label) for kind in Kind])
    planned_time = forms.TimeField(
        required=False,
        input_formats=["%H:%M", "%H:%M:%S", "%H.%M", "%Hh%M"],
        error_messages={"invalid": "A time of day such as 13:45"},
    )
    light = NotationField(parse_light)
    mains_lamps = forms.BooleanField(required=False)
    subject = NotationField(_name)
    subject_speed = NotationField(parse_speed)
    subject_distance = NotationField(parse_distance)
    body = forms.ModelChoiceField(Body.objects.none(), to_field_name="name")
    lens = forms.ModelChoiceField(Lens.objects.none(), to_field_name="name")
    profile = forms.ModelChoiceField(Profile.objects.none(), to_field_name="name")
    filters = ManyOrNoneField(Filter.objects.none(), to_field_name="name", required=False)
    focal = NotationField(parse_focal)
    white = NotationField(tastes.parse_source)
    tint = NotationField(tastes.parse_tint)
    source = NotationField(tastes.parse_main_light, required=False)
    white_bias = NotationField(tastes.parse_bias)
    exposing = forms.ChoiceField(choices=[("", ""), *schools(Exposing)], required=False)
    white_school = forms.ChoiceField(choices=[("", ""), *schools(WhiteSchool)], required=False)
    delivery = NotationField(tastes.parse_delivery, required=False)
    averaged = NotationField(tastes.parse_averaged)
    wanted_screen = NotationField(parse_screen_time)
    handle = NotationField(parse_handle)
    notes = forms.CharField(max_length=4000, required=False)
    recording = forms.CharField(max_length=80, required=False)
    tubes = ManyOrNoneField(Accessory.objects.none(), to_field_name="name", required=False)
    support = forms.ChoiceField(choices=[(sort.value, sort.value) for sort in Support])
    subject_size = NotationField(wishes.parse_size)
    subject_depth = NotationField(wishes.parse_subject_depth)
    lamp_hz = NotationField(wishes.parse_lamp)
    light_change = NotationField(wishes.parse_light_change)
    camera = forms.ChoiceField(choices=[(way.value, way.label) for way in Camera])
    heading = NotationField(wishes.parse_heading)
    pan = NotationField(wishes.parse_pan)
    travel = NotationField(wishes.parse_travel)
    background = NotationField(wishes.parse_background)
    look = forms.ChoiceField(choices=[("", ""), *schools(Look)], required=False)
    handheld = forms.ChoiceField(choices=[("", ""), *schools(Handheld)], required=False)
    circle = forms.ChoiceField(choices=[("", ""), *schools(Circle)], required=False)
    freeze = NotationField(wishes.parse_freeze)
    smear = NotationField(wishes.parse_smear)
    depth = NotationField(wishes.parse_depth)
    slow_factor = NotationField(wishes.parse_slow_factor)

    devices = ManyOrNoneField(Accessory.objects.none(), to_field_name="name", required=False)

    def __init__(self, data: Any, owner: AbstractBaseUser) -> None:
        super().__init__(data)
        for name in CHOICES.keys() & data.keys():
            self.fields[name] = forms.ChoiceField(choices=schools(CHOICES[name]))
        for name in PARSERS.keys() & data.keys():
            self.fields[name] = NotationField(PARSERS[name], max_length=LONGEST_TEXT)
        for name in set(TICKS) & data.keys():
            self.fields[name] = forms.BooleanField(required=False)
        for name in [name for name in self.fields if name not in data]:
            del self.fields[name]
        owned = {"owner": owner}
        querysets = {
            "body": Body.objects.filter(**owned),
            "lens": Lens.objects.filter(**owned),
            "profile": Profile.objects.filter(**owned),
            "filters": Filter.objects.filter(**owned).exclude(kind__in=Filter.KNOB_KINDS),
            "tubes": Accessory.objects.filter(**owned, sort=Accessory.TUBE),
            "devices": Accessory.objects.filter(**owned, sort__in=Accessory.DEVICES),
        }
        for name, queryset in querysets.items():
            if name in self.fields:
                self.fields[name].queryset = queryset


HELD_FIELDS = {f"held_{name}": name for name in HOLDABLE}
LIMIT_FIELDS = {f"limit_{name}": name for name in HOLDABLE if name != "lens"}
WEIGHT_FIELDS = {f"weight_{name}": name for name in CRITERIA}
# Fields kept inside a row's movement and intent, by their keys there.
MOVEMENT_FIELDS = {"camera": "camera", "heading": "heading_deg", "pan": "pan_deg_s",
                   "travel": "travel_m_s", "background": "background_m"}  # fmt: skip
INTENT_FIELDS = {"look": "look", "handheld": "handheld", "circle": "circle",
                 "freeze": "freeze_px", "smear": "smear_percent", "depth": "depth_m",
                 "slow_factor": "slow_factor", "exposing": "exposing",
                 "white_school": "white_school", "delivery": "delivery_px",
                 "averaged": "averaged_frames"}  # fmt: skip


def parse_place_number(low: float, high: float, what: str) -> Callable[[str], float]:
    """A parser for degrees; a comma is a decimal point, a letter says the hemisphere."""

    def parse(text: str) -> float:
        compact = text.strip().upper().replace("°", "")
        sign = -1.0 if compact[-1:] in ("S", "W") else 1.0
        return sign * parse_quantity(
            "place", compact.rstrip("NSEW").strip(), {"": 1.0}, (low, high), what
        )

    return parse


class ShootForm(forms.ModelForm):
    """A shoot: name, date, place and edit frame rate."""

    latitude_deg = NotationField(
        parse_place_number(-90, 90, "degrees from -90 to 90, such as -43.12 or 43.12 S"),
        label="Latitude",
        initial="0",
        help_text="such as 43.12 S; it colours the running order by the sun",
    )
    longitude_deg = NotationField(
        parse_place_number(-180, 180, "degrees from -180 to 180, such as 147.05 or 147.05 E"),
        label="Longitude",
        initial="0",
        help_text="such as 147.05 E",
    )
    project_fps = NotationField(
        parse_frame_rate, label="Edit frame rate", initial="25",
        help_text="frames a second, such as 25 or 23.976",
    )  # fmt: skip

    class Meta:
        model = Shoot
        fields = [
            "name", "date", "place_name", "latitude_deg", "longitude_deg", "time_zone",
            "mains_hz", "project_fps", *SCHOOLS,
        ]  # fmt: skip
        widgets = {
            "date": forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
            "time_zone": forms.TextInput(attrs={"list": "time-zones", "autocomplete": "off"}),
        }
        help_texts = {
            "time_zone": "such as Australia/Hobart",
            "mains_hz": "what lamps pulse with, twice a period",
            "look": "what its setups aim at, unless one chooses otherwise",
        }

    use_required_attribute = False

    def __init__(self, *arguments: Any, **options: Any) -> None:
        super().__init__(*arguments, **options)
        for name in SCHOOLS:
            # Left out, a school stays what it is.
            self.fields[name].required = False

    time_zones = sorted(available_timezones())

    def clean_time_zone(self) -> str:
        """A name the time zone database knows."""
        name = self.cleaned_data["time_zone"].strip()
        if name not in available_timezones():
            raise forms.ValidationError("A time zone name such as Australia/Hobart or UTC")
        return name

    def clean_project_fps(self) -> float:
        """At least one frame a second: this is what the edit plays at."""
        rate = self.cleaned_data["project_fps"]
        if not 1 <= rate <= RATE_RANGE_FPS[1]:
            raise forms.ValidationError("Frames a second, such as 25 or 23.976")
        return rate

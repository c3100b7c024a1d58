"""Forms of the parts of a shoot: a place, a day, a scene, and the ways between places."""

import re
from datetime import time
from typing import Any

from django import forms

from fotonomy.core.constants import EV_RANGE
from fotonomy.core.errors import RuleError
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import parse_quantity
from fotonomy.core.parsing.schedule import parse_looks
from fotonomy.core.ranges import range_of
from fotonomy.core.sky.horizon import HorizonPoint
from fotonomy.kit.forms.base import ModelForm
from fotonomy.shoots.editing.forms import NotationField, WhereForm, checked_day, sentence
from fotonomy.shoots.models import Day, Place, Scene, horizon_of

TIME_FORMATS = ["%H:%M", "%H:%M:%S", "%H.%M", "%Hh%M"]
_LOW_EV, _HIGH_EV = EV_RANGE


def clock_field(**options: Any) -> forms.TimeField:
    """A time of day as people type it."""
    return forms.TimeField(
        input_formats=TIME_FORMATS, error_messages={"invalid": "A time of day such as 07:30"},
        widget=forms.TimeInput(format="%H:%M"), **options,
    )  # fmt: skip


def _height(text: str) -> float:
    return parse_quantity(
        "height_m", text, {"": 1.0, "m": 1.0, "ft": 0.3048}, (-500, 9000),
        "metres over the sea, such as 12 m or 40 ft",
    )  # fmt: skip


def _own_light(text: str) -> float:
    return parse_quantity(
        "own_ev100", text, {"": 1.0, "ev": 1.0}, EV_RANGE,
        f"EV at ISO 100 from {_LOW_EV:g} to {_HIGH_EV:g}, such as 4 under street lamps",
    )  # fmt: skip


def parse_horizon(text: str) -> list[list[float]]:
    """Pairs of azimuth and altitude, one a line or parted by semicolons, as a sorted list.

    "305 12", "NW 12°", "305, 12" are all good; a heading of words is passed over. Raises RuleError.
    """
    low, high = range_of(HorizonPoint, "altitude_deg")
    pairs: list[list[float]] = []
    for line in re.split(r"[\n;]", text):
        said = line.strip()
        if not said or (not pairs and not re.search(r"\d", said)):
            continue
        parts = [part for part in re.split(r"[,\s]+", said.replace("°", " ")) if part]
        rule = f"a direction and a height in each line, such as 305 12, not “{said[:30]}”"
        if len(parts) != 2:
            raise RuleError("horizon", rule, text)
        looks = parse_looks(parts[0])
        if looks is None:
            raise RuleError("horizon", rule, text)
        pairs.append([looks, parse_quantity("horizon", parts[1], {"": 1.0}, (low, high), rule)])
    pairs.sort()
    horizon_of(pairs)
    return pairs


def format_horizon(pairs: list[list[float]]) -> str:
    """The inverse: a pair a line."""
    number = n.format_number
    return "\n".join(f"{number(az, 1)} {number(alt, 1)}" for az, alt in pairs).replace("−", "-")


class HorizonField(forms.CharField):
    """A horizon typed or pasted, a pair a line."""

    widget = forms.Textarea(attrs={"rows": 4, "spellcheck": "false"})

    def to_python(self, value: Any) -> Any:
        try:
            return parse_horizon(super().to_python(value) or "")
        except RuleError as error:
            raise forms.ValidationError(sentence(error.rule)) from error

    def prepare_value(self, value: Any) -> Any:
        return format_horizon(value) if isinstance(value, list) else value


class PlaceForm(WhereForm, ModelForm):
    """A place of a shoot."""

    height_m = NotationField(_height, label="Height, m", initial="0", help_text="over the sea")
    own_ev100 = NotationField(
        _own_light, label="Its own light, EV", required=False,
        help_text="what its lamps give after dark; empty where there are none",
    )  # fmt: skip
    horizon = HorizonField(
        required=False, max_length=4000,
        help_text="turn once with a compass: a direction and the height of the land in each line, "
        "such as 305 12; empty where the land is flat",
    )  # fmt: skip
    opens = clock_field(required=False, label="Open from")
    closes = clock_field(required=False, label="Open until")

    class Meta:
        model = Place
        fields = [
            "name", "latitude_deg", "longitude_deg", "height_m", "time_zone", "mains_hz",
            "own_ev100", "roofed", "horizon", "opens", "closes", "permission", "cautions", "notes",
        ]  # fmt: skip
        help_texts = {
            "roofed": "rain, dew and wind do not reach it",
            "permission": "who gave it, and its number",
            "cautions": "such as tide, traffic, a drop",
        }
        widgets = {
            "notes": forms.Textarea(attrs={"rows": 3}),
            "cautions": forms.Textarea(attrs={"rows": 2}),
        }

    field_order = Meta.fields
    use_required_attribute = False

    def clean(self) -> dict[str, Any]:
        """Both hours of access or neither."""
        data = super().clean()
        hours = [data.get("opens"), data.get("closes")]
        if any(hours) and not all(hours) and not {"opens", "closes"} & set(self.errors):
            self.add_error("opens" if hours[0] is None else "closes", "Both hours, or neither")
        return data


class DayForm(ModelForm):
    """A day of a shoot."""

    date = forms.DateField(widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"))
    call = clock_field(initial=time(6), help_text="from when people work")
    wrap = clock_field(
        initial=time(0), help_text="until when; earlier than the call is after midnight"
    )

    class Meta:
        model = Day
        fields = ["date", "call", "wrap"]

    use_required_attribute = False

    def clean_date(self) -> Any:
        """A day the sky is known for, once in a shoot."""
        day = checked_day(self.cleaned_data["date"])
        if self.instance.shoot_id is not None:
            others = Day.objects.filter(shoot=self.instance.shoot_id, date=day)
            if others.exclude(pk=self.instance.pk).exists():
                raise forms.ValidationError("This day is in the shoot already")
        return day


class SceneForm(ModelForm):
    """A scene of a shoot."""

    class Meta:
        model = Scene
        fields = ["code", "title", "story"]
        labels = {"code": "Number", "story": "What it tells"}
        help_texts = {"code": "such as 4; its setups are 4A, 4B", "story": "in a line"}

    use_required_attribute = False

"""The gear of a setup and what its row alone keeps: put by name, refused beside the field."""

from collections.abc import Callable, Mapping
from typing import Any

from django import forms

from fotonomy.exchange.setup_json import LONGEST_NOTES
from fotonomy.kit.models import Accessory, Body, Filter, Lens, Profile
from fotonomy.shoots.models import Day, Place, Scene, Setup, Shoot
from fotonomy.shoots.packed_kit import PACKED, offered

# Settings that are rows of the kit, and columns that are no settings of the spec.
GEAR_NAMES = {"body", "lens", "profile", "filters", "tubes", "devices"}
ROW_NAMES = {"planned_time", "notes", "place", "day", "in_scene"}

Refuse = Callable[[str, str, str], None]


class ManyOrNoneField(forms.ModelMultipleChoiceField):  # type: ignore[type-arg]
    """Several rows by name; an empty entry is the marker that lets "none" be sent."""

    def clean(self, value: Any) -> Any:
        return super().clean([name for name in value or () if name])


class GearForm(forms.Form):
    """Gear by name, place, day, scene, planned time and notes; only what was sent is looked at."""

    body = forms.ModelChoiceField(Body.objects.none(), to_field_name="name")
    lens = forms.ModelChoiceField(Lens.objects.none(), to_field_name="name")
    profile = forms.ModelChoiceField(Profile.objects.none(), to_field_name="name")
    filters = ManyOrNoneField(Filter.objects.none(), to_field_name="name", required=False)
    tubes = ManyOrNoneField(Accessory.objects.none(), to_field_name="name", required=False)
    devices = ManyOrNoneField(Accessory.objects.none(), to_field_name="name", required=False)
    place = forms.ModelChoiceField(Place.objects.none())
    day = forms.ModelChoiceField(Day.objects.none())
    in_scene = forms.ModelChoiceField(Scene.objects.none(), required=False)
    notes = forms.CharField(max_length=LONGEST_NOTES, required=False)
    planned_time = forms.TimeField(
        required=False,
        input_formats=["%H:%M", "%H:%M:%S", "%H.%M", "%Hh%M"],
        error_messages={"invalid": "A time of day such as 13:45"},
    )

    def __init__(self, data: Mapping[str, Any], shoot: Shoot) -> None:
        super().__init__(data)
        for name in [name for name in self.fields if name not in data]:
            del self.fields[name]
        own = {
            model: model.objects.filter(owner=shoot.owner)
            if shoot.actor.owns
            else model.objects.filter(pk__in=offered(shoot, model, names).values("pk"))
            for names, model in PACKED.items()
        }
        found = {
            "body": own[Body],
            "lens": own[Lens],
            "profile": Profile.objects.filter(owner=shoot.owner),
            "filters": own[Filter].exclude(kind__in=Filter.KNOB_KINDS),
            "tubes": own[Accessory].filter(sort=Accessory.TUBE),
            "place": shoot.places.all(),
            "day": shoot.days.all(),
            "in_scene": shoot.scenes.all(),
            "devices": own[Accessory].filter(sort__in=Accessory.DEVICES),
        }
        for name, rows in found.items():
            asked: Any = self.fields.get(name)
            if asked is not None:
                asked.queryset = rows


def put_gear(row: Setup, data: Mapping[str, Any], refuse: Refuse) -> None:
    """Put gear, place, day, scene, planned time and notes into a row, as far as they are right."""
    if not data:
        return
    form = GearForm(data, row.shoot)
    form.is_valid()
    for name, messages in form.errors.items():
        given = data.get(name, "")
        refuse(name, str(messages[0]), given if isinstance(given, str) else "")
    for name, value in form.cleaned_data.items():
        match name:
            case "filters":
                row.put_filters(value)
            case "tubes":
                row.put_sorts(value, (Accessory.TUBE,))
            case "devices":
                row.put_sorts(value, Accessory.DEVICES)
            case "in_scene":
                row.scene = value
            case _:
                setattr(row, name, value)

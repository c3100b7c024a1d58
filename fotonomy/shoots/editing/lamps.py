"""The form of lamps: a line each, as typed, and the lighting they make."""

from django import forms
from django.contrib.auth.models import User
from django.forms import BaseFormSet, formset_factory
from django.http import QueryDict

from fotonomy.core.errors import RuleError
from fotonomy.core.lamps.lamp import Lamp, Lighting, Placed, Role, Softener
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import parse_quantity, whole_number
from fotonomy.core.photometry.exposure_value import Lux, ev100_of
from fotonomy.core.ranges import range_of
from fotonomy.core.units import LENGTH_UNITS
from fotonomy.kit.forms.fields import ParsedField
from fotonomy.kit.models import Accessory

_LUX = {"": 1.0, "lx": 1.0, "lux": 1.0, "klx": 1000.0}
_DEGREES = {"": 1.0, "°": 1.0, "deg": 1.0}
MOST_LAMPS = 24
_COUNT = "l-TOTAL_FORMS"


def _lux(label: str, low: float, required: bool) -> ParsedField:
    def parse(text: str) -> float | None:
        if not text.strip() and not required:
            return None
        return parse_quantity("lux", text, _LUX, (low, 1e8), "lux such as 10000, or 2.5 klx")

    return ParsedField(parse, lambda v: n.format_number(v, 2), label=label)


def _length(label: str, name: str, required: bool = True) -> ParsedField:
    def parse(text: str) -> float | None:
        if not text.strip() and not required:
            return None
        return parse_quantity(
            name, text, LENGTH_UNITS, range_of(Lamp, name), "a length such as 1.5 m or 60 cm"
        )

    return ParsedField(parse, n.format_length, label=label)


def _angle(text: str) -> float:
    return parse_quantity(
        "angle_deg", text or "0", _DEGREES, (-180, 180),
        "degrees from −180 to 180, less than nothing to the left of the camera",
    )  # fmt: skip


class LampForm(forms.Form):
    """One lamp: what it is there for, its light, and where it stands."""

    role = forms.ChoiceField(choices=[(one.value, one.value) for one in Role], label="For")
    name = forms.CharField(max_length=40, required=False, label="Name", strip=True)
    lux = _lux("Lux at 1 m", 0.01, required=True)
    distance = _length("Distance", "distance_m")
    angle = ParsedField(_angle, lambda v: f"{n.format_number(v, 0)}°", label="Off the camera, °")
    size = _length("Width of its light", "size_m")
    softener = forms.ChoiceField(
        choices=[(one.value, one.label) for one in Softener], label="Through", required=False
    )

    use_required_attribute = False

    def placed(self) -> Placed:
        """The lamp as typed. Call it on a valid form."""
        given = self.cleaned_data
        lamp = Lamp(
            lux_at_1m=given["lux"], distance_m=given["distance"], size_m=given["size"],
            softener=Softener(given["softener"] or "none"),
        )  # fmt: skip
        return Placed(
            lamp=lamp, role=Role(given["role"]), angle_deg=given["angle"], name=given["name"]
        )


class AroundForm(forms.Form):
    """What is there besides the lamps."""

    ambient = _lux("What is there anyway, lux", 0.0, required=False)
    behind = _length("Background behind the subject", "distance_m", required=False)


LampSet: "type[BaseFormSet[LampForm]]" = formset_factory(
    LampForm, extra=0, max_num=MOST_LAMPS, absolute_max=MOST_LAMPS, validate_max=True
)

# A lamp for each purpose where nothing is said: common practice, no source.
_NEW = {
    Role.KEY: {"role": "key", "name": "", "lux": "2000", "distance": "2 m", "angle": "-40°",
               "size": "60 cm", "softener": "softbox"},
    Role.FILL: {"role": "fill", "name": "", "lux": "500", "distance": "3 m", "angle": "35°",
                "size": "60 cm", "softener": "none"},
    Role.BACKGROUND: {"role": "background", "name": "", "lux": "300", "distance": "1.5 m",
                      "angle": "50°", "size": "20 cm", "softener": "none"},
}  # fmt: skip


class LampsForm:
    """Lamps and what is around them, from the address of the page; at first a key alone."""

    def __init__(self, given: QueryDict, owner: User) -> None:
        self.fixtures = list(
            Accessory.objects.filter(owner=owner, sort=Accessory.LAMP).order_by("name")
        )
        data = given.copy()
        if _COUNT not in data:
            data["ambient"], data["behind"] = "0", "2 m"
            data[_COUNT] = "0"
            self._add(data, "")
        count = min(whole_number(data.get(_COUNT, ""), MOST_LAMPS) or 0, MOST_LAMPS)
        data[_COUNT], data["l-INITIAL_FORMS"] = str(count), "0"
        if "add" in data and count < MOST_LAMPS:
            self._add(data, data.get("add", ""))
        elif (dropped := whole_number(data.get("drop", ""), MOST_LAMPS)) is not None:
            _drop(data, dropped)
        self.lamps = LampSet(data, prefix="l")
        self.around = AroundForm(data)

    @property
    def wrong(self) -> list[str]:
        """What is wrong, each with its lamp and field."""
        found = []
        for number, line in enumerate(self.lamps.forms, 1):
            for name, errors in line.errors.items():
                label = line.fields[name].label if name in line.fields else "All"
                found += [f"Lamp {number}, {label}: {error}" for error in errors]
        for name, errors in self.around.errors.items():
            found += [f"{self.around.fields[name].label}: {error}" for error in errors]
        return found

    def _add(self, data: QueryDict, asked: str) -> None:
        """One lamp more: of the kit, or a usual one for a purpose that none is there for yet."""
        at = whole_number(data.get(_COUNT, ""), MOST_LAMPS) or 0
        there = {data.get(f"l-{k}-role", "") for k in range(at)}
        role = next((one for one in Role if one.value not in there), Role.FILL)
        line = dict(_NEW[role])
        own = next((one for one in self.fixtures if str(one.pk) == asked), None)
        own = own or (self.fixtures[0] if self.fixtures and not at else None)
        if own is not None:
            line |= {"name": own.name[:40], "lux": n.format_number(own.lux_1m or 0, 2),
                     "size": n.format_length(own.size_m or 0.1)}  # fmt: skip
        for name, text in line.items():
            data[f"l-{at}-{name}"] = text
        data[_COUNT] = str(at + 1)

    def lighting(self) -> Lighting | None:
        """The lamps as typed; None where something is wrong, which its field then says."""
        if not (self.lamps.is_valid() & self.around.is_valid()):
            return None
        given = self.around.cleaned_data
        found = Lighting(
            tuple(one.placed() for one in self.lamps), given["ambient"] or 0.0, given["behind"]
        )
        try:
            ev100_of(Lux(found.lux))
        except RuleError as error:
            rule = f"{error.rule[:1].upper()}{error.rule[1:]}"
            first = next(iter(self.lamps.forms), None)
            if first is not None:
                first.add_error("lux", rule)
            else:
                self.around.add_error("ambient", rule)
            return None
        return found


def _drop(data: QueryDict, dropped: int) -> None:
    """Leave a line out; those after it move up."""
    count = int(data.get(_COUNT, "0"))
    if dropped >= count:
        return
    for k in range(dropped, count - 1):
        for name in LampForm.base_fields:
            data[f"l-{k}-{name}"] = data.get(f"l-{k + 1}-{name}", "")
    data[_COUNT] = str(count - 1)

"""The form of two lamps: what is typed of key and fill, and the lighting they make."""

from typing import Any

from django import forms

from fotonomy.core.errors import RuleError
from fotonomy.core.lamps.lamp import Lamp, Lighting, Softener
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import parse_quantity
from fotonomy.core.photometry.exposure_value import Lux, ev100_of
from fotonomy.core.ranges import range_of
from fotonomy.core.units import LENGTH_UNITS
from fotonomy.kit.forms.fields import ParsedField

_LUX = {"": 1.0, "lx": 1.0, "lux": 1.0, "klx": 1000.0}


def _lux(label: str, required: bool, low: float = 0.01) -> ParsedField:
    def parse(text: str) -> float | None:
        if not text.strip() and not required:
            return None
        return parse_quantity("lux", text, _LUX, (low, 1e8), "lux such as 10000, or 2.5 klx")

    return ParsedField(parse, lambda v: n.format_number(v, 2), label=label, required=False)


def _length(label: str, name: str, required: bool) -> ParsedField:
    def parse(text: str) -> float | None:
        if not text.strip() and not required:
            return None
        return parse_quantity(
            name, text, LENGTH_UNITS, range_of(Lamp, name), "a length such as 1.5 m or 60 cm"
        )

    return ParsedField(parse, n.format_length, label=label, required=False)


def _softener(label: str) -> forms.ChoiceField:
    choices = [(one.value, one.label) for one in Softener]
    return forms.ChoiceField(choices=choices, label=label, required=False)


class LampsForm(forms.Form):
    """Key, fill and what is there anyway; a fill without light is none."""

    key_lux = _lux("Key, a metre before it, lux", required=True)
    key_distance = _length("Key to the subject", "distance_m", required=True)
    key_size = _length("Width of the key", "size_m", required=True)
    key_softener = _softener("Key through")
    fill_lux = _lux("Fill, a metre before it, lux", required=False, low=0.0)
    fill_distance = _length("Fill to the subject", "distance_m", required=False)
    fill_size = _length("Width of the fill", "size_m", required=False)
    fill_softener = _softener("Fill through")
    ambient = _lux("What is there anyway, lux", required=False, low=0.0)

    USUAL: dict[str, Any] = {
        "key_lux": "2000", "key_distance": "2 m", "key_size": "60 cm", "key_softener": "softbox",
        "fill_lux": "", "fill_distance": "3 m", "fill_size": "60 cm", "fill_softener": "none",
        "ambient": "0",
    }  # fmt: skip

    def clean(self) -> dict[str, Any]:
        """A fill needs its distance and width; what no meter shows is no scene light."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        if data.get("fill_lux"):
            for name in ("fill_distance", "fill_size"):
                if data.get(name) is None and name not in self.errors:
                    self.add_error(name, "A fill needs this")
        if not self.errors:
            try:
                ev100_of(Lux(self.lighting().lux))
            except RuleError as error:
                self.add_error("key_lux", f"{error.rule[:1].upper()}{error.rule[1:]}")
        return data

    def lighting(self) -> Lighting:
        """The lamps as typed. Call it on a valid form."""
        given = self.cleaned_data
        fill = self._lamp("fill") if given["fill_lux"] else None
        return Lighting(self._lamp("key"), fill, given["ambient"] or 0.0)

    def _lamp(self, name: str) -> Lamp:
        given = self.cleaned_data
        return Lamp(
            lux_at_1m=given[f"{name}_lux"], distance_m=given[f"{name}_distance"],
            size_m=given[f"{name}_size"], softener=Softener(given[f"{name}_softener"] or "none"),
        )  # fmt: skip

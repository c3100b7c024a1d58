"""Forms of the kit. Lists are typed as people write them: "25: 100, 50: 150"."""

import re
from collections.abc import Callable
from typing import Any

from django import forms

from fotonomy.core import notation
from fotonomy.core.errors import RuleError
from fotonomy.core.gear import GlassKind
from fotonomy.kit.models import Body, Filter, Gear, Lens, Profile

MOST_ENTRIES = 64


def _number(text: str, field: str, limits: tuple[float, float], rule: str) -> float:
    return notation.parse_quantity(field, text, {"": 1.0, "°": 1.0, "fps": 1.0}, limits, rule)


class ParsedField(forms.CharField):
    """Text read by a function; shown again by another."""

    def __init__(
        self, parse: Callable[[str], Any], show: Callable[[Any], str], **options: Any
    ) -> None:
        super().__init__(max_length=1000, **options)
        self.parse, self.show = parse, show

    def to_python(self, value: Any) -> Any:
        text = super().to_python(value)
        try:
            return self.parse(text)
        except RuleError as error:
            raise forms.ValidationError(f"{error.rule[:1].upper()}{error.rule[1:]}") from error

    def prepare_value(self, value: Any) -> Any:
        return value if isinstance(value, str) or value is None else self.show(value)

    def validate(self, value: Any) -> None:
        """The parser has the last word."""

    def run_validators(self, value: Any) -> None:
        """Nothing to add: values are no longer text."""


def number_field(
    label: str, low: float, high: float, unit: str = "", required: bool = True
) -> ParsedField:
    """A number within limits; a comma is a decimal point and the unit may be typed along."""
    units = {"": 1.0, unit.lower(): 1.0}
    rule = f"a number from {low:g} to {high:g} {unit}".strip()

    def parse(text: str) -> float | None:
        if not text and not required:
            return None
        return notation.parse_quantity(label, text, units, (low, high), rule)

    full = f"{label}, {unit}" if unit else label
    return ParsedField(parse, lambda v: notation.format_number(v, 6), label=full, required=False)


def iso_field(label: str) -> ParsedField:
    """One ISO value."""
    return ParsedField(notation.parse_iso, str, label=label, required=False)


def time_field(label: str) -> ParsedField:
    """One shutter time."""

    def parse(text: str) -> float:
        time_s = notation.parse_shutter(text).time_s
        if time_s is None:
            raise RuleError("shutter", "a time such as 1/8000 or 30 s", text)
        return time_s

    return ParsedField(parse, notation.format_exact_time, label=label, required=False)


def _entries(text: str, rule: str) -> list[str]:
    # A comma followed by a space (or a line end, or a semicolon) parts entries; 23,976 stays whole.
    parts = [part.strip() for part in re.split(r"[;\n]|,\s+|,$", text or "") if part.strip()]
    if len(parts) > MOST_ENTRIES:
        raise RuleError("list", rule, text)
    return parts


def parse_rates(text: str) -> list[list[float]]:
    """Frame rates with their data rates, "25: 100, 50: 150"."""
    rule = "frame rates each with Mb/s, such as 25: 100, 50: 150"
    found = {}
    for entry in _entries(text, rule):
        fps, colon, mb_s = re.sub(r"(?i)mb/s|mbit/s", "", entry).partition(":")
        if not colon:
            raise RuleError("rates", rule, text)
        rate = notation.parse_frame_rate(fps)
        found[rate] = _number(mb_s.strip(), "rates", (0.1, 100_000), rule)
    if not found:
        raise RuleError("rates", f"at least one: {rule}", text)
    return [[fps, found[fps]] for fps in sorted(found)]


def number_list(rule: str, low: float, high: float, whole: bool = False) -> Callable[[str], Any]:
    """A parser for a list of numbers, sorted, each once."""

    def parse(text: str) -> list[float]:
        values = sorted(
            {_number(entry, "list", (low, high), rule) for entry in _entries(text, rule)}
        )
        if whole and any(value != int(value) for value in values):
            raise RuleError("list", rule, text)
        return [int(value) for value in values] if whole else values

    return parse


def show_rates(rates: list[list[float]]) -> str:
    """The inverse of parse_rates."""
    return ", ".join(
        f"{notation.format_number(fps, 3)}: {notation.format_number(mb, 1)}" for fps, mb in rates
    )


def show_list(values: list[float]) -> str:
    """The inverse of a number list."""
    return ", ".join(notation.format_number(value, 3) for value in values)


class GearForm(forms.ModelForm):
    """What all gear forms share: an owner, a name of its own, and the core's own rules."""

    def __init__(self, *arguments: Any, owner: Any, **options: Any) -> None:
        super().__init__(*arguments, **options)
        self.instance.owner = owner

    def clean_name(self) -> str:
        """A name no other gear of this sort has."""
        name = self.cleaned_data["name"].strip()
        twin = type(self.instance).objects.filter(owner=self.instance.owner, name=name)
        if twin.exclude(pk=self.instance.pk).exists():
            raise forms.ValidationError("You have one of this name already")
        return name

    def _post_clean(self) -> None:
        super()._post_clean()
        if self.errors:
            return
        try:
            self.check_spec()
        except RuleError as error:
            field = error.field if error.field in self.fields else None
            self.add_error(field, f"{error.rule[:1].upper()}{error.rule[1:]}")

    def check_spec(self) -> None:
        """Let the core look at the gear; it raises RuleError naming the field."""
        self.instance.to_spec()


class BodyForm(GearForm):
    """A camera body."""

    sensor_width_mm = number_field("Recorded width", 1, 100, "mm")
    sensor_height_mm = number_field("Recorded height", 1, 100, "mm")
    rates = ParsedField(
        parse_rates, show_rates, label="Frame rates with Mb/s", required=False,
        help_text="frame rate: Mb/s, such as 25: 100, 50: 150, 100: 280",
    )  # fmt: skip
    drive_rates_fps = ParsedField(
        number_list("burst rates such as 12, 20", 0.1, 1000), show_list,
        label="Burst pictures a second", required=False, help_text="such as 12, 20; may be empty",
    )  # fmt: skip
    angles_deg = ParsedField(
        number_list("angles up to 360, such as 90, 172.8, 180", 0.1, 360), show_list,
        label="Shutter angles, °", required=False, help_text="such as 45, 90, 172.8, 180, 360",
    )  # fmt: skip
    slowest_s = time_field("Slowest time")
    fastest_s = time_field("Fastest time")
    iso_lowest = iso_field("Lowest ISO")
    iso_highest = iso_field("Highest ISO")
    iso_ceiling = ParsedField(
        notation.parse_iso, str, label="Your ceiling", required=False,
        help_text="the highest ISO you can live with on this body",
    )  # fmt: skip
    card_gb = number_field("Card", 0.1, 100_000, "GB")
    still_mb = number_field("One still picture", 0.05, 10_000, "MB")

    class Meta:
        model = Body
        fields = [
            "name", "sensor_width_mm", "sensor_height_mm", "width_px", "height_px", "rates",
            "drive_rates_fps", "shutter_style", "angles_deg", "slowest_s", "fastest_s",
            "iso_lowest", "iso_highest", "iso_ceiling", "profiles", "card_gb", "still_mb",
        ]  # fmt: skip
        labels = {"width_px": "Delivered width, px", "height_px": "Delivered height, px",
                  "shutter_style": "Shutter set as"}  # fmt: skip
        widgets = {"profiles": forms.CheckboxSelectMultiple}

    def __init__(self, *arguments: Any, owner: Any, **options: Any) -> None:
        super().__init__(*arguments, owner=owner, **options)
        self.fields["profiles"].queryset = Profile.objects.filter(owner=owner)

    def check_spec(self) -> None:
        """The body without its profiles, which are no rows yet."""
        self.instance.to_spec_with(())

    def clean_width_px(self) -> int:
        """At least something, at most absurd."""
        return self._pixels("width_px")

    def clean_height_px(self) -> int:
        """At least something, at most absurd."""
        return self._pixels("height_px")

    def _pixels(self, name: str) -> int:
        value: int = self.cleaned_data[name]
        if not 16 <= value <= 100_000:
            raise forms.ValidationError("From 16 to 100000 pixels")
        return value


class LensForm(GearForm):
    """A lens."""

    focal_shortest_mm = number_field("Shortest focal length", 1, 3000, "mm")
    focal_longest_mm = number_field("Longest focal length", 1, 3000, "mm")
    widest_f = ParsedField(notation.parse_iris, notation.format_iris, label="Widest iris",
                           required=False)  # fmt: skip
    smallest_f = ParsedField(notation.parse_iris, notation.format_iris, label="Smallest iris",
                             required=False)  # fmt: skip
    transmission_stops = number_field("Light lost in the glass", 0, 5, "stops")
    thread_mm = number_field("Filter thread", 1, 500, "mm", required=False)

    class Meta:
        model = Lens
        fields = [
            "name", "focal_shortest_mm", "focal_longest_mm", "widest_f", "smallest_f",
            "transmission_stops", "thread_mm",
        ]  # fmt: skip


class FilterForm(GearForm):
    """A filter; which numbers it needs depends on its kind."""

    density = ParsedField(
        lambda text: notation.parse_density(text) if text else None, notation.format_density,
        label="Density", required=False,
        help_text="for ND: 0.9, ND8 or 3 stops; for a variable ND its weakest",
    )  # fmt: skip
    most_density = ParsedField(
        lambda text: notation.parse_density(text) if text else None, notation.format_density,
        label="Strongest density", required=False, help_text="for a variable ND only",
    )  # fmt: skip
    loss_stops = number_field("Light taken", 0, 10, "stops", required=False)
    thread_mm = number_field("Thread (empty: square glass)", 1, 500, "mm", required=False)

    class Meta:
        model = Filter
        fields = ["name", "kind", "density", "most_density", "loss_stops", "thread_mm"]

    def clean(self) -> dict[str, Any]:
        """Ask for the numbers this kind of filter needs."""
        data = super().clean() or self.cleaned_data
        kind = data.get("kind")
        if self.errors or not kind:
            return data
        was = self.initial.get("kind", kind)
        if (was in Filter.KNOB_KINDS) != (kind in Filter.KNOB_KINDS) and self.instance.pk:
            if self.instance.setups.exists():
                self.add_error(
                    "kind", "A setup has it in front of its lens: take it off there first"
                )
            return data
        if kind in Filter.KNOB_KINDS and not data.get("density"):
            self.add_error("density", "An ND needs its density, such as 0.9")
        if kind == GlassKind.VARIABLE_ND.value and not self.errors:
            if (data.get("most_density") or 0) <= data["density"]:
                self.add_error("most_density", "Has to be more than the weakest density")
        elif kind not in Filter.KNOB_KINDS and data.get("loss_stops") is None:
            self.add_error("loss_stops", "Say how much light it takes, 0 if none")
        return data


class ProfileForm(GearForm):
    """A recording profile."""

    a = number_field("a", -1e6, 1e6, required=False)
    b = number_field("b", -1e6, 1e6, required=False)
    c = number_field("c", -1e6, 1e6, required=False)
    d = number_field("d", -1e6, 1e6, required=False)
    e = number_field("e", -1e6, 1e6, required=False)
    f = number_field("f", -1e6, 1e6, required=False)
    cut = number_field("cut", -1e6, 1e6, required=False)
    clip_percent = number_field("Clips at", 1, 200, "%")
    grey_percent = number_field("Grey at, if not where the curve puts it", 0.1, 150, "%",
                                required=False)  # fmt: skip
    base_iso = ParsedField(
        number_list("base ISO values such as 500, 3200", 1, 10_000_000, whole=True), show_list,
        label="Base ISO", required=False, help_text="one, or a pair such as 500, 3200",
    )  # fmt: skip

    class Meta:
        model = Profile
        fields = [
            "name", "curve", "clip_percent", "grey_percent", "scale", "bits", "base_iso",
            "a", "b", "c", "d", "e", "f", "cut",
        ]  # fmt: skip
        labels = {"bits": "Bits", "scale": "Percent scale"}

    def clean_bits(self) -> int:
        """Bit depths cameras record."""
        bits: int = self.cleaned_data["bits"]
        if not 8 <= bits <= 16:
            raise forms.ValidationError("From 8 to 16 bits")
        return bits

    def clean(self) -> dict[str, Any]:
        """A log needs all seven parameters."""
        data = super().clean() or self.cleaned_data
        if data.get("curve") == Profile.LOG:
            for name in Profile.PARAMETERS:
                if name not in self.errors and data.get(name) is None:
                    self.add_error(name, "A parametric log needs this number")
        return data


FORMS: dict[str, type[GearForm]] = {
    "body": BodyForm, "lens": LensForm, "filter": FilterForm, "profile": ProfileForm,
}  # fmt: skip
MODELS: dict[str, type[Gear]] = {sort: form._meta.model for sort, form in FORMS.items()}

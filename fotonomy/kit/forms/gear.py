"""Forms of the kit: one a thing, with the core's own rules beside the fields."""

from typing import Any

from django import forms
from django.forms import BaseFormSet, formset_factory

from fotonomy.core.errors import RuleError
from fotonomy.core.gear.body import Body as BodySpec
from fotonomy.core.gear.body import DriveMode, RecordingFormat, Sensor
from fotonomy.core.gear.filters import GlassKind, Mount
from fotonomy.core.gear.lens import Lens as LensSpec
from fotonomy.core.gear.lens import loss_from_t_number
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import (
    parse_density,
    parse_iris,
    parse_iso,
    parse_quantity,
    whole_number,
)
from fotonomy.core.notation.units import STOP_UNITS
from fotonomy.kit.forms.accessory import AccessoryForm
from fotonomy.kit.forms.base import GearForm
from fotonomy.kit.forms.fields import (
    ParsedField,
    iso_field,
    length_field,
    number_field,
    number_list,
    number_of,
    optional,
    parse_rates,
    show_list,
    show_rates,
    time_field,
)
from fotonomy.kit.forms.profile import ProfileForm
from fotonomy.kit.models import Body, Filter, Gear, Lens, Profile

# Lines of formats or drives a body may have.
MOST_LINES = 24


class FormatForm(forms.Form):
    """One recording format of a body."""

    name = forms.CharField(max_length=80, label="Name", strip=True)
    width_px = number_of(RecordingFormat, "width_px", "Width", "px")
    height_px = number_of(RecordingFormat, "height_px", "Height", "px")
    sensor_width_mm = number_of(RecordingFormat, "sensor_width_mm", "Recorded width", "mm")
    sensor_height_mm = number_of(RecordingFormat, "sensor_height_mm", "Recorded height", "mm")
    rates = ParsedField(
        parse_rates, show_rates, label="Frame rates with Mb/s", required=False,
        help_text="frame rate: Mb/s, such as 25: 100, 50: 150",
    )  # fmt: skip
    bits = number_of(RecordingFormat, "bits", "Bits")
    chroma = forms.ChoiceField(choices=[(c, c) for c in ("4:2:0", "4:2:2", "4:4:4", "raw")])
    readout_ms = number_of(RecordingFormat, "readout_ms", "Readout", "ms", required=False)
    photosites_px = number_of(RecordingFormat, "photosites_px", "Photosites across", required=False)

    use_required_attribute = False


class DriveForm(forms.Form):
    """One stills drive of a body."""

    name = forms.CharField(max_length=80, label="Name", strip=True)
    fps = number_of(DriveMode, "fps", "Pictures a second")
    fps_focusing = number_of(DriveMode, "fps_focusing", "While focus follows", required=False)
    buffer_frames = number_of(DriveMode, "buffer_frames", "Raw in a burst", required=False)
    buffer_jpeg = number_of(DriveMode, "buffer_jpeg", "JPEG in a burst", required=False)
    precapture_s = number_of(DriveMode, "precapture_s", "Kept from before", "s", required=False)
    electronic = forms.BooleanField(label="Electronic shutter", required=False)

    use_required_attribute = False


FormatSet: "type[BaseFormSet[FormatForm]]" = formset_factory(
    FormatForm,
    extra=0,
    min_num=1,
    max_num=MOST_LINES,
    absolute_max=30,
    validate_max=True,
    can_delete=True,
)
DriveSet: "type[BaseFormSet[DriveForm]]" = formset_factory(
    DriveForm, extra=0, max_num=MOST_LINES, absolute_max=30, validate_max=True, can_delete=True
)


def _rows(lines: "BaseFormSet[Any]") -> list[dict[str, Any]]:
    """What was filled in and not struck out, in its order."""
    return [
        {key: value for key, value in form.cleaned_data.items() if key != "DELETE"}
        for form in lines.forms
        if form.cleaned_data and not form.cleaned_data.get("DELETE")
    ]


class OwnRowsField(forms.ModelMultipleChoiceField):  # type: ignore[type-arg]
    """Rows by id; what can be no id is no row, and is refused as one that is not there."""

    def clean(self, value: Any) -> Any:
        if any(whole_number(str(key)) is None for key in value or ()):
            raise forms.ValidationError(self.error_messages["invalid_list"])
        return super().clean(value)


class BodyForm(GearForm):
    """A camera body with its recording formats and stills drives, each a line of its own.

    ``more`` in the data asks for one more empty line; nothing is kept then.
    """

    angles_deg = ParsedField(
        number_list("angles up to 360, such as 90, 172.8, 180", 0.1, 360), show_list,
        label="Shutter angles, °", required=False, help_text="such as 45, 90, 172.8, 180, 360",
    )  # fmt: skip
    slowest_s = time_field("Slowest time")
    fastest_s = time_field("Fastest time")
    iso_lowest = iso_field("Lowest ISO")
    iso_highest = iso_field("Highest ISO")
    iso_extended_lowest = iso_field("Extended down to", required=False)
    iso_extended_highest = iso_field("Extended up to", required=False)
    iso_ceiling = ParsedField(
        parse_iso, str, label="Your ceiling", required=False,
        help_text="the highest ISO you can live with on this body",
    )  # fmt: skip
    nd_wheel = ParsedField(
        number_list("densities such as 0.6, 1.2", 0.1, 4), show_list, label="Built-in ND",
        required=False, help_text="densities of its wheel, such as 0.6, 1.2, 1.8; clear left out",
    )  # fmt: skip
    stabiliser_stops = number_of(BodySpec, "stabiliser_stops", "Stabiliser", "stops")
    power_w = number_of(BodySpec, "power_w", "Power draw", "W", required=False)
    card_gb = number_of(BodySpec, "card_gb", "Card", "GB")
    idle_w = number_of(BodySpec, "idle_w", "Power waiting", "W", required=False)
    still_mb = number_of(BodySpec, "still_mb", "One raw still", "MB")
    jpeg_mb = number_of(BodySpec, "jpeg_mb", "One JPEG", "MB", required=False)
    still_mp = number_of(BodySpec, "still_mp", "Megapixels of a still", required=False)
    combines_most = number_field(
        "Exposures it combines", 1, 100, required=False, whole=True,
        help_text="in camera, added into one picture; 1 for none",
    )  # fmt: skip
    full_well_e = number_field(
        "Full well",
        100,
        1e7,
        "e",
        required=False,
        help_text="electrons at the clip, lowest base; calibrate fills it",
    )
    profiles = OwnRowsField(
        Profile.objects.none(), required=False, widget=forms.CheckboxSelectMultiple
    )
    read_low_e = number_of(Sensor, "read_low_e", "Read noise", "e", required=False)
    read_high_e = number_of(Sensor, "read_high_e", "Read noise, upper base", "e", required=False)

    class Meta:
        model = Body
        fields = [
            "name", "shutter_style", "angles_deg", "slowest_s", "fastest_s", "iso_lowest",
            "iso_highest", "iso_extended_lowest", "iso_extended_highest", "iso_ceiling",
            "nd_wheel", "stabiliser_stops", "power_w", "idle_w", "card_gb", "still_mb", "jpeg_mb",
            "still_mp", "combines_most", "combines_averaging", "mount", "full_well_e",
            "read_low_e", "read_high_e", "profiles",
        ]  # fmt: skip
        labels = {"shutter_style": "Shutter set as", "combines_averaging": "Averages them too"}
        help_texts = {"mount": "your own name for it; empty takes every lens"}

    def __init__(self, data: Any = None, *, owner: Any, **options: Any) -> None:
        super().__init__(data, owner=owner, **options)
        profiles = self.fields["profiles"]
        assert isinstance(profiles, forms.ModelMultipleChoiceField)
        profiles.queryset = Profile.objects.filter(owner=owner)
        self.asks_more = data.get("more", "") if data is not None else ""
        if data is not None and self.asks_more in ("formats", "drives"):
            data = data.copy()
            total = f"{self.asks_more}-TOTAL_FORMS"
            data[total] = str((whole_number(data.get(total, ""), MOST_LINES) or 0) + 1)
        have = self.instance.pk is not None
        self.formats = FormatSet(
            data, prefix="formats", initial=self.instance.formats if have else None
        )
        self.drives = DriveSet(
            data, prefix="drives", initial=self.instance.drive_modes if have else None
        )

    def is_valid(self) -> bool:
        """True if the body and all its lines are right and nothing more is asked for."""
        lines = self.formats.is_valid() & self.drives.is_valid()
        return bool(super().is_valid() & lines) and not self.asks_more

    def clean_jpeg_mb(self) -> float:
        """A usual size where nothing is typed."""
        return float(self.cleaned_data["jpeg_mb"] or Body().jpeg_mb)

    def clean_combines_most(self) -> int:
        """One where nothing is typed: it combines none."""
        return int(self.cleaned_data["combines_most"] or 1)

    def clean(self) -> dict[str, Any]:
        """Take the lines over; the core then looks at the whole."""
        data = super().clean() or self.cleaned_data
        if self.formats.is_valid() and self.drives.is_valid():
            formats = _rows(self.formats)
            if not formats:
                raise forms.ValidationError("A body needs at least one recording format.")
            self.instance.formats = formats
            self.instance.drive_modes = _rows(self.drives)
        if any(name in self.changed_data for name in Body.SENSOR):
            known = any(data.get(name) is not None for name in Body.SENSOR)
            self.instance.sensor_source = "entered by hand" if known else ""
        return data

    def check_spec(self) -> None:
        """The body without its profiles, which are no rows yet."""
        if self.formats.is_valid() and self.drives.is_valid():
            self.instance.to_spec_with(())


class LensForm(GearForm):
    """A lens; its loss may be typed as a T-number."""

    focal_shortest_mm = number_of(LensSpec, "focal_shortest_mm", "Shortest focal length", "mm")
    focal_longest_mm = number_of(LensSpec, "focal_longest_mm", "Longest focal length", "mm")
    widest_f = ParsedField(parse_iris, n.format_iris, label="Widest iris",
                           required=False)  # fmt: skip
    widest_long_f = ParsedField(
        optional(parse_iris), n.format_iris, label="Widest at the long end",
        required=False, help_text="where a zoom closes down; empty if it does not",
    )  # fmt: skip
    smallest_f = ParsedField(parse_iris, n.format_iris, label="Smallest iris",
                             required=False)  # fmt: skip
    transmission_stops = ParsedField(
        lambda text: text, lambda stops: f"{n.format_number(stops, 2)} stops",
        label="Light lost in the glass", required=False,
        help_text="in stops such as 0.3, or the T-number wide open, such as T2.1",
    )  # fmt: skip
    thread_mm = number_of(LensSpec, "thread_mm", "Filter thread", "mm", required=False)
    close_focus_m = length_field("Close focus", 0.01, 1000, "from the lens, such as 45 cm")
    greatest_magnification = number_of(
        LensSpec, "greatest_magnification", "Greatest magnification", required=False
    )
    stabiliser_stops = number_of(LensSpec, "stabiliser_stops", "Stabiliser", "stops")
    squeeze = number_of(LensSpec, "squeeze", "Squeeze")

    class Meta:
        model = Lens
        fields = [
            "name", "focal_shortest_mm", "focal_longest_mm", "widest_f", "widest_long_f",
            "smallest_f", "transmission_stops", "thread_mm", "close_focus_m",
            "greatest_magnification", "stabiliser_stops", "squeeze", "mount",
        ]  # fmt: skip
        help_texts = {"squeeze": "1 for ordinary lenses, more for anamorphic ones",
                      "mount": "your own name for it; empty goes on every body"}  # fmt: skip

    def clean_transmission_stops(self) -> float:
        """Stops, or a T-number against the widest iris."""
        text = (self.cleaned_data["transmission_stops"] or "").strip()
        rule = "stops from 0 to 5, such as 0.3, or a T-number such as T2.1"
        try:
            if text[:1].lower() == "t":
                widest = self.cleaned_data.get("widest_f")
                t_number = parse_iris(text)
                return loss_from_t_number(t_number, widest) if widest else 0.0
            return parse_quantity("transmission_stops", text, STOP_UNITS, (0.0, 5.0), rule)
        except RuleError as error:
            raise forms.ValidationError(f"{error.rule[:1].upper()}{error.rule[1:]}") from error


class FilterForm(GearForm):
    """A filter; which numbers it needs depends on its kind."""

    density = ParsedField(
        lambda text: parse_density(text) if text else None, n.format_density,
        label="Density", required=False,
        help_text="for ND: 0.9, ND8 or 3 stops; for a variable ND its weakest",
    )  # fmt: skip
    most_density = ParsedField(
        lambda text: parse_density(text) if text else None, n.format_density,
        label="Strongest density", required=False, help_text="for a variable ND only",
    )  # fmt: skip
    loss_stops = number_field("Light taken", 0, 10, "stops", required=False)
    thread_mm = number_field("Thread", 1, 500, "mm", required=False)

    class Meta:
        model = Filter
        fields = ["name", "kind", "density", "most_density", "loss_stops", "mount", "thread_mm"]
        labels = {"mount": "Sits"}
        help_texts = {"mount": "on a thread, in a matte box, or clipped in behind the lens"}

    def clean(self) -> dict[str, Any]:
        """Ask for the numbers this kind of filter needs."""
        data = super().clean() or self.cleaned_data
        kind = data.get("kind")
        if self.errors or not kind:
            return data
        was = self.initial.get("kind", kind)
        turned = (was in Filter.KNOB_KINDS) != (kind in Filter.KNOB_KINDS)
        if turned and self.instance.pk and self.instance.setups.exists():
            self.add_error("kind", "A setup has it in front of its lens: take it off there first")
            return data
        if kind in Filter.KNOB_KINDS and not data.get("density"):
            self.add_error("density", "An ND needs its density, such as 0.9")
        if kind == GlassKind.VARIABLE_ND.value and not self.errors:
            if (data.get("most_density") or 0) <= data["density"]:
                self.add_error("most_density", "Has to be more than the weakest density")
        elif kind not in Filter.KNOB_KINDS and data.get("loss_stops") is None:
            self.add_error("loss_stops", "Say how much light it takes, 0 if none")
        if data.get("mount") == Mount.THREAD.value and data.get("thread_mm") is None:
            self.add_error("thread_mm", "A screw-in filter needs its thread, such as 77 mm")
        if data.get("mount") != Mount.THREAD.value:
            data["thread_mm"] = None
        return data


FORMS: dict[str, type[GearForm]] = {
    "body": BodyForm, "lens": LensForm, "filter": FilterForm, "accessory": AccessoryForm,
    "profile": ProfileForm,
}  # fmt: skip
MODELS: dict[str, type[Gear]] = {sort: form._meta.model for sort, form in FORMS.items()}

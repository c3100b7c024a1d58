"""Forms of the kit: one a thing, with the core's own rules beside the fields."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

from django import forms
from django.forms import BaseFormSet, formset_factory
from django.forms.utils import ErrorDict

from fotonomy.core.errors import RuleError
from fotonomy.core.gear.body import Body as BodySpec
from fotonomy.core.gear.body import DriveMode, RecordingFormat, Sensor
from fotonomy.core.gear.filters import Filter as FilterSpec
from fotonomy.core.gear.filters import FilterKind, Mount
from fotonomy.core.gear.lens import Lens as LensSpec
from fotonomy.core.gear.lens import loss_from_t_number
from fotonomy.core.gear.sensor_classes import USUAL, SensorClass
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import (
    parse_density,
    parse_iris,
    parse_iso,
    parse_quantity,
    whole_number,
)
from fotonomy.core.parsing.stills import format_span, parse_longest_bulb
from fotonomy.core.units import STOP_UNITS
from fotonomy.kit.forms.accessory import AccessoryForm
from fotonomy.kit.forms.base import GearForm
from fotonomy.kit.forms.fields import (
    OwnRowsField,
    ParsedField,
    iso_field,
    length_field,
    most_common_rate,
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

    name = forms.CharField(
        max_length=80, label="Name", strip=True, required=False,
        help_text="left empty, its pixels: 3840 × 2160",
    )  # fmt: skip
    width_px = number_of(RecordingFormat, "width_px", "Width", "px", initial=3840)
    height_px = number_of(RecordingFormat, "height_px", "Height", "px", initial=2160)
    sensor_width_mm = number_of(RecordingFormat, "sensor_width_mm", "Recorded width", "mm")
    sensor_height_mm = number_of(RecordingFormat, "sensor_height_mm", "Recorded height", "mm")
    rates = ParsedField(
        parse_rates, show_rates, label="Frame rates, fps", needed=True,
        help_text="such as 24, 25, 50; one with its own Mb/s as 100: 280",
    )  # fmt: skip
    mb_s = number_field(
        "Data rate",
        0.1,
        100_000,
        "Mb/s",
        required=False,
        help_text="for frame rates without their own",
    )
    bits = number_of(RecordingFormat, "bits", "Depth", "bits", initial=10)
    chroma = forms.ChoiceField(
        choices=[(c, c) for c in ("4:2:0", "4:2:2", "4:4:4", "raw")], initial="4:2:2"
    )
    readout_ms = number_of(RecordingFormat, "readout_ms", "Readout", "ms", required=False)
    photosites_px = number_of(
        RecordingFormat, "photosites_px", "Photosites across", "px", required=False
    )

    use_required_attribute = False

    def clean(self) -> dict[str, Any]:
        """The data rate of all goes to those without one of their own; a name of its pixels."""
        data = super().clean() or self.cleaned_data
        common = data.pop("mb_s", None)
        rates = data.get("rates") or ()
        if any(rate["mb_s"] is None for rate in rates):
            if common is None and "mb_s" not in self.errors:
                self.add_error(
                    "mb_s", "Give a data rate here, or one after each frame rate (50: 150)."
                )
            data["rates"] = [{**rate, "mb_s": rate["mb_s"] or common} for rate in rates]
        if not data.get("name") and "width_px" in data and "height_px" in data:
            data["name"] = f"{data['width_px']} × {data['height_px']}"
        return data


def _shown_formats(formats: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Formats as their lines show them: the common data rate once, the others beside theirs."""
    shown = []
    for one in formats:
        common = most_common_rate(one["rates"])
        rates = [
            {"fps": rate["fps"], "mb_s": None if rate["mb_s"] == common else rate["mb_s"]}
            for rate in one["rates"]
        ]
        shown.append({**one, "rates": rates, "mb_s": common})
    return shown


class DriveForm(forms.Form):
    """One stills drive of a body."""

    name = forms.CharField(max_length=80, label="Name", strip=True)
    fps = number_of(DriveMode, "fps", "Speed", "pictures a second")
    fps_focusing = number_of(
        DriveMode, "fps_focusing", "While focus follows", "a second", required=False
    )
    buffer_frames = number_of(
        DriveMode, "buffer_frames", "Raw in a burst", "pictures", required=False
    )
    buffer_jpeg = number_of(DriveMode, "buffer_jpeg", "JPEG in a burst", "pictures", required=False)
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


def _with_sensor(data: Any, preset: str) -> Any:
    """The data with the recorded area of a sensor size in every format; ISO where none is typed.

    A format is taken to use the sensor's whole width; its pixels say how high that makes it.
    """
    if preset not in {one.value for one in SensorClass}:
        return data
    usual = USUAL[SensorClass(preset)]
    for k in range(whole_number(data.get("formats-TOTAL_FORMS", ""), MOST_LINES) or 0):
        wide = whole_number(data.get(f"formats-{k}-width_px", ""), 100_000)
        high = whole_number(data.get(f"formats-{k}-height_px", ""), 100_000)
        height_mm = usual.width_mm * high / wide if wide and high else usual.height_mm
        data[f"formats-{k}-sensor_width_mm"] = n.format_number(usual.width_mm, 2)
        data[f"formats-{k}-sensor_height_mm"] = n.format_number(height_mm, 2)
    for name in ("iso_highest", "iso_ceiling"):
        if not data.get(name):
            data[name] = str(getattr(usual, name))
    return data


class BodyForm(GearForm):
    """A camera body with its recording formats and stills drives, each a line of its own.

    ``more`` in the data asks for one more empty line, ``preset`` for the sizes of a sensor; nothing
    is kept then.
    """

    SENSORS = tuple((one.value, usual.label) for one, usual in USUAL.items())

    angles_deg = ParsedField(
        number_list("angles up to 360, such as 90, 172.8, 180", 0.1, 360), show_list,
        label="Shutter angles, °", required=False, help_text="such as 45, 90, 172.8, 180, 360",
        widget=forms.Textarea(attrs={"rows": 2}),
    )  # fmt: skip
    slowest_s = time_field("Slowest time")
    fastest_s = time_field("Fastest time")
    iso_lowest = iso_field("Lowest ISO")
    iso_highest = iso_field("Highest ISO")
    iso_extended_lowest = iso_field("Extended down to, ISO", required=False)
    iso_extended_highest = iso_field("Extended up to, ISO", required=False)
    iso_ceiling = ParsedField(
        parse_iso, str, label="Your ceiling, ISO", needed=True,
        help_text="the highest ISO you can live with on this body",
    )  # fmt: skip
    nd_wheel = ParsedField(
        number_list("densities such as 0.6, 1.2", 0.1, 4), show_list, label="Built-in ND, density",
        required=False, help_text="densities of its wheel, such as 0.6, 1.2, 1.8; clear left out",
    )  # fmt: skip
    stabiliser_stops = number_of(BodySpec, "stabiliser_stops", "Stabiliser", "stops")
    power_w = number_of(BodySpec, "power_w", "Power draw", "W", required=False)
    card_gb = number_of(BodySpec, "card_gb", "Card", "GB")
    idle_w = number_of(BodySpec, "idle_w", "Power waiting", "W", required=False)
    still_mb = number_of(BodySpec, "still_mb", "One raw still", "MB")
    jpeg_mb = number_of(BodySpec, "jpeg_mb", "One JPEG", "MB", required=False)
    still_mp = number_of(BodySpec, "still_mp", "One still", "megapixels", required=False)
    still_height_mm = number_of(
        BodySpec, "still_height_mm", "Sensor's height", "mm", required=False,
        help_text="of a still; empty for two thirds of its width",
    )  # fmt: skip
    longest_bulb_s = ParsedField(
        optional(parse_longest_bulb), format_span, label="Longest bulb, time", required=False,
        help_text="where it ends an exposure by itself, such as 1 h; empty for no end",
    )  # fmt: skip
    combines_most = number_field(
        "Combines in camera", 1, 100, "exposures", required=False, whole=True,
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
    read_high_e = number_of(
        Sensor, "read_high_e", "Read noise at the upper base", "e", required=False
    )

    class Meta:
        model = Body
        fields = [
            "name", "shutter_style", "angles_deg", "slowest_s", "fastest_s", "iso_lowest",
            "iso_highest", "iso_extended_lowest", "iso_extended_highest", "iso_ceiling",
            "nd_wheel", "stabiliser_stops", "power_w", "idle_w", "card_gb", "still_mb", "jpeg_mb",
            "still_mp", "still_height_mm", "longest_bulb_s", "combines_most", "combines_averaging",
            "mount", "fixed_lens", "full_well_e",
            "read_low_e", "read_high_e", "profiles",
        ]  # fmt: skip
        labels = {
            "shutter_style": "Shutter set as",
            "combines_averaging": "Averages them too",
            "fixed_lens": "Its lens does not come off",
        }
        help_texts = {
            "fixed_lens": "a phone, a drone, a compact: nothing clips in behind it",
            "mount": "your own name for it; empty takes every lens",
        }

    FIRST = ("name", "iso_lowest", "iso_highest", "iso_ceiling", "shutter_style", "angles_deg",
             "profiles")  # fmt: skip
    FOLDS = (
        ("Shutter times and bulb", ("slowest_s", "fastest_s", "longest_bulb_s")),
        ("More ISO, built-in ND, stabiliser, mount", (
            "iso_extended_lowest", "iso_extended_highest", "nd_wheel", "stabiliser_stops", "mount",
            "fixed_lens",
        )),
        ("Card and power", ("card_gb", "power_w", "idle_w")),
        ("Stills", ("still_mb", "jpeg_mb", "still_mp", "still_height_mm", "combines_most",
                    "combines_averaging")),
        ("Noise, as measured", ("full_well_e", "read_low_e", "read_high_e")),
    )  # fmt: skip

    def __init__(self, data: Any = None, *, owner: Any, **options: Any) -> None:
        if data is not None and data.get("preset"):
            data = _with_sensor(data.copy(), data["preset"])
        super().__init__(data, owner=owner, **options)
        profiles = self.fields["profiles"]
        assert isinstance(profiles, forms.ModelMultipleChoiceField)
        profiles.queryset = Profile.objects.filter(owner=owner)
        self.asks_more = data.get("more", "") if data is not None else ""
        if data is not None and self.asks_more in ("formats", "drives"):
            data = data.copy()
            total = f"{self.asks_more}-TOTAL_FORMS"
            there = whole_number(data.get(total, ""), MOST_LINES) or 0
            data[total] = str(there + 1)
            line = FormatForm() if self.asks_more == "formats" else DriveForm()
            for name, bound in line.fields.items():
                if (usual := bound.prepare_value(bound.initial)) is not None:
                    data.setdefault(f"{self.asks_more}-{there}-{name}", usual)
        have = self.instance.pk is not None
        self.formats = FormatSet(
            data, prefix="formats", initial=_shown_formats(self.instance.formats) if have else None
        )
        self.drives = DriveSet(
            data, prefix="drives", initial=self.instance.drive_modes if have else None
        )

        if self.quiet:
            self._ask_quietly()

    @property
    def lines(self) -> "dict[str, BaseFormSet[Any]]":
        """Its recording formats and its stills drives."""
        return {"formats": self.formats, "drives": self.drives}

    def _ask_quietly(self) -> None:
        """Nothing is judged while a line more is asked for; the new line has the focus."""
        self._errors = ErrorDict()
        both: tuple[Any, ...] = (self.formats, self.drives)
        for lines in both:
            lines._errors = [ErrorDict() for _ in lines.forms]
            lines._non_form_errors = lines.error_class()
            for form in lines.forms:
                form._errors = ErrorDict()
        asked = dict(zip(("formats", "drives"), both, strict=True)).get(self.asks_more)
        if asked is not None and asked.forms:
            asked.forms[-1].fields["name"].widget.attrs["autofocus"] = True

    def is_valid(self) -> bool:
        """True if the body and all its lines are right and nothing more is asked for."""
        if self.quiet:
            return False
        lines = self.formats.is_valid() & self.drives.is_valid()
        return bool(super().is_valid() & lines)

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
    focal_longest_mm = number_of(
        LensSpec, "focal_longest_mm", "Longest focal length", "mm", required=False,
        help_text="empty for a lens that does not zoom",
    )  # fmt: skip
    widest_f = ParsedField(parse_iris, n.format_iris, label="Widest iris, f-number",
                           needed=True)  # fmt: skip
    widest_long_f = ParsedField(
        optional(parse_iris), n.format_iris, label="Widest at the long end, f-number",
        required=False, help_text="where a zoom closes down; empty if it does not",
    )  # fmt: skip
    smallest_f = ParsedField(parse_iris, n.format_iris, label="Smallest iris, f-number",
                             initial=22.0)  # fmt: skip
    transmission_stops = ParsedField(
        lambda text: text, lambda stops: f"{n.format_number(stops, 2)} stops",
        label="Light lost in the glass, stops", required=False,
        help_text="such as 1/3 or 0.3, or the T-number wide open, such as T2.1",
    )  # fmt: skip
    thread_mm = number_of(LensSpec, "thread_mm", "Filter thread", "mm", required=False)
    close_focus_m = length_field(
        "Close focus", 0.01, 1000, "from the mark of the sensor plane, as engraved, such as 45 cm"
    )
    greatest_magnification = number_of(
        LensSpec, "greatest_magnification", "Greatest magnification", "times", required=False
    )
    stabiliser_stops = number_of(LensSpec, "stabiliser_stops", "Stabiliser", "stops")
    squeeze = number_of(LensSpec, "squeeze", "Squeeze", "times")

    class Meta:
        model = Lens
        fields = [
            "name", "focal_shortest_mm", "focal_longest_mm", "widest_f", "widest_long_f",
            "smallest_f", "transmission_stops", "thread_mm", "close_focus_m",
            "greatest_magnification", "stabiliser_stops", "squeeze", "mount",
        ]  # fmt: skip
        help_texts = {"squeeze": "1 for ordinary lenses, more for anamorphic ones",
                      "mount": "your own name for it; empty goes on every body"}  # fmt: skip

    FIRST = ("name", "focal_shortest_mm", "focal_longest_mm", "widest_f", "thread_mm",
             "close_focus_m")  # fmt: skip
    FOLDS = (
        ("More: zoom, glass, close-up, stabiliser, squeeze, mount", (
            "widest_long_f", "smallest_f", "transmission_stops", "greatest_magnification",
            "stabiliser_stops", "squeeze", "mount",
        )),
    )  # fmt: skip

    def clean_focal_longest_mm(self) -> float | None:
        """The shortest again where a lens does not zoom."""
        longest = self.cleaned_data["focal_longest_mm"]
        return longest if longest is not None else self.cleaned_data.get("focal_shortest_mm")

    def clean_transmission_stops(self) -> float:
        """Stops, or a T-number against the widest iris."""
        text = str(self.cleaned_data["transmission_stops"] or "0").strip()
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
        label="Density, ND or stops", required=False, help_text="0.9, ND8 or 3 stops",
    )  # fmt: skip
    most_density = ParsedField(
        lambda text: parse_density(text) if text else None, n.format_density,
        label="Strongest, ND or stops", required=False, help_text="such as 5 stops",
    )  # fmt: skip
    loss_stops = number_field("Light taken", 0, 10, "stops", required=False)
    thread_mm = number_field(
        "Thread", 1, 500, "mm", required=False, help_text="of a filter that is screwed on"
    )

    TYPE = "kind"
    BY_TYPE: Mapping[str, tuple[str, ...]] = MappingProxyType({
        FilterKind.ND: ("density",), FilterKind.VARIABLE_ND: ("density", "most_density"),
        FilterKind.POLARISER: ("loss_stops",), FilterKind.DIFFUSION: ("loss_stops",),
        FilterKind.OTHER: ("loss_stops",),
    })  # fmt: skip

    TYPE_LABELS: Mapping[str, str] = MappingProxyType(
        {FilterKind.ND: "ND", FilterKind.VARIABLE_ND: "Variable ND"}
    )

    def __init__(self, *arguments: Any, **options: Any) -> None:
        super().__init__(*arguments, **options)
        if self.shown_type == FilterKind.VARIABLE_ND:
            self.fields["density"].label = "Weakest, ND or stops"
            self.fields["density"].help_text = "such as 2 stops"

    def seated(self) -> FilterSpec | None:
        """The glass by its mount and thread alone; None where a thread is not said yet."""
        try:
            mount = Mount(self["mount"].value() or Mount.THREAD)
            thread = self.fields["thread_mm"].clean(self["thread_mm"].value() or "")
        except (ValueError, forms.ValidationError):
            return None
        if mount is Mount.THREAD and thread is None:
            return None
        return FilterSpec(
            name="glass", kind=FilterKind.OTHER, stops=0.0, mount=mount,
            thread_mm=thread if mount is Mount.THREAD else None,
        )  # fmt: skip

    class Meta:
        model = Filter
        fields = ["name", "kind", "density", "most_density", "loss_stops", "mount", "thread_mm"]
        labels = {"mount": "Mount"}
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
        if kind == FilterKind.VARIABLE_ND.value and not self.errors:
            if (data.get("most_density") or 0) <= data["density"]:
                self.add_error("most_density", "Has to be more than the weakest density")
        elif kind not in Filter.KNOB_KINDS and data.get("loss_stops") is None:
            self.add_error("loss_stops", "Say how much light it takes, 0 if none")
        if data.get("mount") == Mount.THREAD.value and data.get("thread_mm") is None:
            self.add_error("thread_mm", "A screw-in filter needs its thread, such as 77 mm")
        if data.get("mount") != Mount.THREAD.value:
            data["thread_mm"] = None
        for name in {"density", "most_density", "loss_stops"} - self.fields.keys():
            setattr(self.instance, name, None)
        return data


FORMS: dict[str, type[GearForm]] = {
    "body": BodyForm, "lens": LensForm, "filter": FilterForm, "accessory": AccessoryForm,
    "profile": ProfileForm,
}  # fmt: skip
MODELS: dict[str, type[Gear]] = {sort: form._meta.model for sort, form in FORMS.items()}

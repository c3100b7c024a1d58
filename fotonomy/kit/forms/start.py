"""The three short forms a first setup with one's own gear begins with."""

from typing import Any

from django import forms

from fotonomy.core.gear.body import ShutterStyle
from fotonomy.core.gear.sensor_classes import Usual
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import parse_iris
from fotonomy.kit.forms.fields import (
    ParsedField,
    iso_field,
    number_field,
    number_list,
    optional,
    show_list,
)

# Frame rates of most cameras; common practice, no source.
USUAL_RATES = [24.0, 25.0, 30.0, 50.0, 60.0]
# Densities most people own, and what each takes.
DENSITIES = (0.3, 0.6, 0.9, 1.2, 1.5, 1.8, 3.0)


class CameraForm(forms.Form):
    """A camera in a few numbers; all but the name begin with what is usual for its sensor."""

    name = forms.CharField(max_length=80, label="What you call it", strip=True)
    rates = ParsedField(
        number_list("frame rates such as 24, 25, 50", 1, 1000), show_list,
        label="Frame rates it records, fps", needed=True, help_text="such as 24, 25, 50, 100",
    )  # fmt: skip
    project_fps = number_field(
        "Your films play at",
        1,
        120,
        "fps",
        help_text="25 where mains are 50 Hz, 24 or 30 elsewhere",
    )
    iso_lowest = iso_field("Lowest ISO")
    iso_highest = iso_field("Highest ISO")
    iso_ceiling = iso_field("Highest ISO you would use")
    base_iso = ParsedField(
        optional(number_list("one or two ISO values such as 500, 3200", 1, 1_000_000, whole=True)),
        show_list, label="Base ISO of its log profile",
        help_text="empty if you record plain video; two are typed as 500, 3200",
    )  # fmt: skip
    shutter_style = forms.ChoiceField(
        label="Its shutter is set as",
        choices=[
            (ShutterStyle.TIME.value, "a time, 1/50"), (ShutterStyle.ANGLE.value, "an angle, 180°"),
            (ShutterStyle.BOTH.value, "either"),
        ],
    )  # fmt: skip

    use_required_attribute = False

    @classmethod
    def usual(cls, usual: Usual) -> dict[str, Any]:
        """What such a camera begins with."""
        return {
            "name": "My camera", "rates": USUAL_RATES, "project_fps": 25, "iso_lowest": 100,
            "iso_highest": usual.iso_highest, "iso_ceiling": usual.iso_ceiling,
            "base_iso": [usual.log_base_iso],
        }  # fmt: skip

    def clean(self) -> dict[str, Any]:
        """The lowest ISO lies under the highest; a log has one base ISO or two."""
        data = super().clean() or self.cleaned_data
        if (
            "iso_lowest" in data
            and "iso_highest" in data
            and data["iso_highest"] < data["iso_lowest"]
        ):
            self.add_error("iso_highest", "No lower than the lowest ISO")
        if len(data.get("base_iso") or ()) > 2:
            self.add_error("base_iso", "One base ISO, or two")
        return data


class OwnLensForm(forms.Form):
    """A lens in a few numbers."""

    focal_shortest_mm = number_field("Shortest focal length", 1, 3000, "mm")
    focal_longest_mm = number_field(
        "Longest focal length", 1, 3000, "mm", required=False,
        help_text="empty for a lens that does not zoom",
    )  # fmt: skip
    widest_f = ParsedField(
        parse_iris, n.format_iris, label="Widest iris, f-number", needed=True,
        help_text="the smallest number engraved on its front, such as 2.8",
    )  # fmt: skip
    thread_mm = number_field(
        "Filter thread", 1, 500, "mm", required=False,
        help_text="stands on the front beside ⌀; empty where nothing can be screwed on",
    )  # fmt: skip

    use_required_attribute = False

    @classmethod
    def usual(cls, usual: Usual) -> dict[str, Any]:
        """The lens such a camera is usually sold with."""
        short, long = usual.focal_mm
        return {
            "focal_shortest_mm": short, "focal_longest_mm": long if long > short else None,
            "widest_f": usual.widest_f, "thread_mm": usual.thread_mm,
        }  # fmt: skip

    def clean(self) -> dict[str, Any]:
        """The longest is no shorter than the shortest."""
        data = super().clean() or self.cleaned_data
        short = data.get("focal_shortest_mm")
        if "focal_longest_mm" in data and data["focal_longest_mm"] is None:
            data["focal_longest_mm"] = short
        if short and data.get("focal_longest_mm") and data["focal_longest_mm"] < short:
            self.add_error("focal_longest_mm", "No shorter than the shortest")
        return data


class GlassForm(forms.Form):
    """Which grey filters there are."""

    densities = forms.MultipleChoiceField(
        label="Your ND filters", required=False, widget=forms.CheckboxSelectMultiple,
        choices=[
            (str(d), f"ND {d} (takes {d / 0.3:.0f} stop{'s' if d > 0.3 else ''})")
            for d in DENSITIES
        ],
    )  # fmt: skip
    variable_least = number_field(
        "A variable ND from", 0.3, 10, "stops", required=False,
        help_text="its weakest, such as 2; empty if you have none",
    )  # fmt: skip
    variable_most = number_field(
        "to", 0.5, 15, "stops", required=False, help_text="its strongest, such as 5",
    )  # fmt: skip

    use_required_attribute = False

    def clean(self) -> dict[str, Any]:
        """A variable ND has a weakest and a stronger strongest."""
        data = super().clean() or self.cleaned_data
        if self.errors:
            return data
        least, most = data.get("variable_least"), data.get("variable_most")
        if (least is None) != (most is None):
            empty = "variable_least" if least is None else "variable_most"
            self.add_error(empty, "A variable ND has a weakest and a strongest")
        elif least is not None and most is not None and most <= least:
            self.add_error("variable_most", "Has to be more than its weakest")
        return data

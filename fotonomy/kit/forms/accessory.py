"""The form of what holds glass, lengthens a lens, carries the camera, or hangs on it."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

from fotonomy.core.gear.accessories import Battery
from fotonomy.core.lamps.lamp import Fixture
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import parse_energy
from fotonomy.kit.forms.base import GearForm
from fotonomy.kit.forms.fields import (
    ParsedField,
    length_field,
    number_field,
    number_of,
    optional,
)
from fotonomy.kit.models import Accessory

# Fields each sort has: those it needs, and those it may leave empty.
NEEDS: dict[str, tuple[str, ...]] = {
    Accessory.RING: ("lens_mm", "filter_mm"), Accessory.BOX: ("lens_mm",),
    Accessory.TUBE: ("length_mm",), Accessory.SUPPORT: ("support",),
    Accessory.REMOTE: ("counting", "step_s"), Accessory.CARD: ("size_gb",),
    Accessory.BATTERY: ("energy_wh",), Accessory.HEATER: ("power_w",),
    Accessory.LAMP: ("lux_1m",),
}  # fmt: skip
MAY: dict[str, tuple[str, ...]] = {
    Accessory.REMOTE: ("waits_first", "most_count", "unlimited", "sure_count"),
    Accessory.CARD: ("write_mb_s",), Accessory.BATTERY: ("external", "count", "loss_percent"),
    Accessory.HEATER: ("fed_by",), Accessory.LAMP: ("size_m",),
}  # fmt: skip


class AccessoryForm(GearForm):
    """An accessory; it shows the numbers of its sort and asks for those it needs."""

    lens_mm = number_field(
        "Thread on the lens", 1, 500, "mm", required=False,
        help_text="of a step ring; for a matte box the largest it goes on",
    )  # fmt: skip
    filter_mm = number_field("Thread for the filter", 1, 500, "mm", required=False)
    length_mm = number_field("Length of the tube", 0.5, 1000, "mm", required=False)
    most_count = number_field(
        "Counts to", 1, 10_000_000, "frames", required=False, whole=True,
        help_text="the highest count it takes; or tick that it can run without a count",
    )  # fmt: skip
    sure_count = number_field(
        "Counter to be trusted up to", 1, 10_000_000, "frames", required=False, whole=True,
        help_text="cheap counters skip numbers above about a hundred",
    )  # fmt: skip
    step_s = number_field("Finest step", 0.01, 60, "s", required=False)
    size_gb = number_field("Size", 0.1, 100_000, "GB", required=False)
    write_mb_s = number_field(
        "Sustained write speed", 0.1, 100_000, "MB/s", required=False,
        help_text="what it keeps up for minutes, not the number printed largest",
    )  # fmt: skip
    energy_wh = ParsedField(
        optional(parse_energy), lambda v: f"{n.format_number(v, 2)} Wh", label="Energy of one",
        required=False, help_text="Wh, or as printed: 10000 mAh at 3.7 V",
    )  # fmt: skip
    count = number_of(Battery, "count", "How many", required=False)
    loss_percent = number_of(
        Battery, "loss_percent", "Lost when stepped up", "%", required=False,
        help_text="a pack printed in mAh loses about 15 % on its way to the camera's voltage",
    )  # fmt: skip
    power_w = number_field("Draws", 0.1, 1000, "W", required=False)

    lux_1m = number_of(
        Fixture, "lux_at_1m", "Light a metre before it", "lux", required=False,
        help_text="as its maker states it, or as metered a metre away",
    )  # fmt: skip
    size_m = length_field("Width of its light", 0.001, 20, "such as 20 cm; empty for 10 cm")

    class Meta:
        model = Accessory
        fields = [
            "name", "sort", "lens_mm", "filter_mm", "length_mm", "support", "counting", "step_s",
            "waits_first", "most_count", "unlimited", "sure_count", "size_gb", "write_mb_s",
            "energy_wh", "count", "external", "loss_percent", "power_w", "fed_by", "lux_1m",
            "size_m",
        ]  # fmt: skip
        labels = {
            "sort": "What it is", "support": "Carries the camera as",
            "counting": "Its interval counts", "waits_first": "Waits one interval before the first",
            "unlimited": "Can run without a count", "external": "An external pack",
            "fed_by": "Hangs on",
        }  # fmt: skip

    TYPE = "sort"
    BY_TYPE: Mapping[str, tuple[str, ...]] = MappingProxyType(
        {sort: (*names, *MAY.get(sort, ())) for sort, names in NEEDS.items()}
    )

    def __init__(self, *arguments: Any, **options: Any) -> None:
        super().__init__(*arguments, **options)
        for name in ("counting", "fed_by"):
            if name in self.fields:
                self.fields[name].required = False

    def clean(self) -> dict[str, Any]:
        """Ask for the numbers this sort needs, and put the others back to nothing."""
        data = super().clean() or self.cleaned_data
        sort = data.get("sort")
        if not sort:
            return data
        was = self.initial.get("sort")
        if self.instance.pk and was != sort and self.instance.setups.exists():
            self.add_error("sort", "A setup has this on its camera: take it off there first")
            return data
        for name in NEEDS[sort]:
            if name in self.errors or name in ("counting", "step_s"):
                continue
            if data.get(name) in (None, ""):
                self.add_error(name, "This needs a value here")
        if sort == Accessory.REMOTE:
            data["counting"] = data.get("counting") or Accessory().counting
            data["step_s"] = data.get("step_s") or Accessory().step_s
        usual = Accessory()
        for name in ("count", "loss_percent", "fed_by"):
            if name in self.fields and name not in self.errors and data.get(name) in (None, ""):
                data[name] = getattr(usual, name)
        for names in (*NEEDS.values(), *MAY.values()):
            for name in names:
                if name not in self.fields:
                    setattr(self.instance, name, getattr(usual, name))
        return data

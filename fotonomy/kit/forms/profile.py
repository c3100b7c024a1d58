"""The form of a recording profile, tables taken in included."""

from typing import Any

from django import forms

from fotonomy.core.errors import RuleError
from fotonomy.core.gear.profile import Profile as ProfileSpec
from fotonomy.exchange.converter import curve_to_data
from fotonomy.exchange.curve_files import LARGEST_TABLE_BYTES, read_table
from fotonomy.exchange.errors import ExchangeError
from fotonomy.kit.forms.base import GearForm
from fotonomy.kit.forms.fields import (
    OwnRowsField,
    ParsedField,
    number_field,
    number_list,
    number_of,
    show_list,
)
from fotonomy.kit.models import Body, Profile


class ProfileForm(GearForm):
    """A recording profile."""

    a = number_field("a", -1e6, 1e6, required=False)
    b = number_field("b", -1e6, 1e6, required=False)
    c = number_field("c", -1e6, 1e6, required=False)
    d = number_field("d", -1e6, 1e6, required=False)
    e = number_field("e", -1e6, 1e6, required=False)
    f = number_field("f", -1e6, 1e6, required=False)
    cut = number_field("cut", -1e6, 1e6, required=False)
    clip_percent = number_of(ProfileSpec, "clip_percent", "Clips at", "%")
    grey_percent = number_of(
        ProfileSpec, "grey_percent", "Grey at, if not where the curve puts it", "%", required=False
    )
    skin_percent = number_of(
        ProfileSpec, "skin_percent", "Light skin at", "%", required=False,
        help_text="where you put its bright side; empty for 1.45 stops over grey",
    )  # fmt: skip
    table_file = forms.FileField(
        label="Table, .cube or CSV", required=False,
        help_text="one-dimensional; CSV with columns linear or stops, and signal or percent",
    )  # fmt: skip
    table_turns = forms.ChoiceField(
        label="The table turns", required=False, initial="encodes",
        choices=[("encodes", "light into signal"), ("decodes", "signal into light")],
    )  # fmt: skip
    base_iso = ParsedField(
        number_list("base ISO values such as 500, 3200", 1, 10_000_000, whole=True), show_list,
        label="Base ISO", required=False, help_text="one, or a pair such as 500, 3200",
    )  # fmt: skip

    bodies = OwnRowsField(
        Body.objects.none(), required=False, widget=forms.CheckboxSelectMultiple,
        label="Recorded by these bodies",
    )  # fmt: skip

    FIRST = ("name", "curve", "clip_percent", "base_iso", "bits", "scale", "bodies", "purpose")
    FOLDS = (
        ("Numbers of a parametric log", Profile.PARAMETERS),
        ("A table from a file", ("table_file", "table_turns")),
        ("Grey and skin, where you put them yourself", ("grey_percent", "skin_percent")),
    )

    class Meta:
        model = Profile
        fields = [
            "name", "purpose", "curve", "clip_percent", "grey_percent", "skin_percent", "scale",
            "bits", "base_iso", "a", "b", "c", "d", "e", "f", "cut",
        ]  # fmt: skip
        labels = {"bits": "Depth, bits", "scale": "Percent scale"}

    def __init__(self, *arguments: Any, owner: Any, **options: Any) -> None:
        super().__init__(*arguments, owner=owner, **options)
        bodies = self.fields["bodies"]
        assert isinstance(bodies, forms.ModelMultipleChoiceField)
        bodies.queryset = Body.objects.filter(owner=owner)
        if self.instance.pk:
            bodies.initial = list(self.instance.body_set.values_list("pk", flat=True))

    def save(self, commit: bool = True) -> Profile:
        """The profile, linked with the bodies that record it where it was asked about them."""
        saved: Profile = super().save(commit)
        if "bodies" in self.changed_data or not self.instance.pk:
            saved.body_set.set(self.cleaned_data["bodies"])
        return saved

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
        self._take_table(data)
        return data

    def _take_table(self, data: dict[str, Any]) -> None:
        """A table that was sent, held to be a curve; one is needed where none stands yet."""
        upload = data.get("table_file")
        if upload is not None:
            raw = upload.read(LARGEST_TABLE_BYTES + 1)
            decodes = data.get("table_turns") == "decodes"
            try:
                curve = read_table(raw, upload.name[:80], data.get("name") or "table", decodes)
            except ExchangeError as error:
                self.add_error("table_file", f"{error.place}: {error.problem}")
                return
            data["curve"] = Profile.TABLE
            self.instance.table = curve_to_data(curve)["table"]
            self.instance.table_source = f"from {upload.name}"[:120]
        elif data.get("curve") == Profile.TABLE and not self.instance.table:
            self.add_error("table_file", "A table needs its file")

    def check_spec(self) -> None:
        """Let the core look; what it says of a table belongs beside the file."""
        try:
            self.instance.to_spec()
        except RuleError as error:
            field = "table_file" if error.field == "table" else error.field
            raise RuleError(field, error.rule, error.value) from error

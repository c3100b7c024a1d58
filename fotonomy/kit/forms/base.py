"""What the forms of all gear share."""

from typing import TYPE_CHECKING, Any

from django import forms

from fotonomy.core.errors import RuleError
from fotonomy.kit.forms.fields import ParsedField

# Generic for the type checker only: the instance is whatever model the form's Meta names.
if TYPE_CHECKING:
    ModelForm = forms.ModelForm[Any]
else:
    ModelForm = forms.ModelForm


class GearForm(ModelForm):
    """What all gear forms share: an owner, a name of its own, and the core's own rules."""

    def __init__(self, *arguments: Any, owner: Any, **options: Any) -> None:
        super().__init__(*arguments, **options)
        self.instance.owner = owner

    def clean_name(self) -> str:
        """A name no other gear of this sort has."""
        name: str = self.cleaned_data["name"].strip()
        twin = type(self.instance).objects.filter(owner=self.instance.owner, name=name)
        if twin.exclude(pk=self.instance.pk).exists():
            raise forms.ValidationError("You have one of this name already")
        return name

    def clean(self) -> dict[str, Any]:
        """What was left as it was shown keeps its value to the last digit."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        changed = set(self.changed_data)
        for name in data.keys() & self.initial.keys() - changed:
            if isinstance(self.fields[name], ParsedField):
                data[name] = self.initial[name]
        return data

    def _post_clean(self) -> None:
        super()._post_clean()  # type: ignore[misc]  # Django's own hook, not in the stubs
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

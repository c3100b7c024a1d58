"""What the forms of all gear share."""

from typing import TYPE_CHECKING, Any, NamedTuple

from django import forms
from django.forms.models import model_to_dict

from fotonomy.core.errors import RuleError
from fotonomy.kit.forms.fields import ParsedField
from fotonomy.web.whole_forms import texts_of, texts_of_lines

# Generic for the type checker only: the instance is whatever model the form's Meta names.
if TYPE_CHECKING:
    ModelForm = forms.ModelForm[Any]
else:
    ModelForm = forms.ModelForm


class Fold(NamedTuple):
    """Some fields under a title, shut unless ``opened``."""

    title: str
    fields: list[forms.BoundField]
    opened: bool


class GearForm(ModelForm):
    """What all gear forms share: an owner, a name of its own, and the core's own rules."""

    # What stands first, and the rest folded by topic; no folds where all of it is short.
    FIRST: tuple[str, ...] = ()
    FOLDS: tuple[tuple[str, tuple[str, ...]], ...] = ()

    def __init__(self, *arguments: Any, owner: Any, **options: Any) -> None:
        if options.get("instance") is None:
            # A new thing begins with what is usual.
            model: type[Any] = self._meta.model
            usual = model_to_dict(model(), fields=self._meta.fields)
            given = {k: v for k, v in usual.items() if v not in (None, "", [])}
            options["initial"] = {**given, **(options.get("initial") or {})}
        super().__init__(*arguments, **options)
        self.instance.owner = owner
        columns = {c.name: c for c in self._meta.model._meta.concrete_fields}
        for name, field in self.fields.items():
            if isinstance(field, ParsedField) and name in columns and columns[name].has_default():
                field.usual = columns[name].get_default()

    @property
    def lines(self) -> "dict[str, forms.BaseFormSet[Any]]":
        """Lines that come and go, by their prefix; most gear has none."""
        return {}

    def texts(self) -> dict[str, list[str]]:
        """What a browser would send of this form if nobody touched it, by the fields' names."""
        found = texts_of(self)
        for lines in self.lines.values():
            found |= texts_of_lines(lines)
        return found

    @property
    def first(self) -> list[forms.BoundField]:
        """The fields that stand first: all of them where there are no folds."""
        return [self[name] for name in self.FIRST or self.fields if name in self.fields]

    @property
    def folds(self) -> list[Fold]:
        """The folded fields; a fold with an error in it stands open."""
        return [
            Fold(title, [self[name] for name in names], any(name in self.errors for name in names))
            for title, names in self.FOLDS
        ]

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

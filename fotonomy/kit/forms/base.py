"""What the forms of all gear share."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import TYPE_CHECKING, Any, NamedTuple

from django import forms
from django.forms.models import model_to_dict
from django.forms.utils import ErrorDict
from django.utils.text import capfirst

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
    # The field that says what sort of thing it is, and the fields that only some sorts have.
    TYPE = ""
    BY_TYPE: Mapping[str, tuple[str, ...]] = MappingProxyType({})
    TYPE_LABELS: Mapping[str, str] = MappingProxyType({})
    # Presses that ask for another look of the form: nothing is judged or kept then.
    ASKS = ("as", "more", "preset", "fits")

    def __init__(self, data: Any = None, *arguments: Any, owner: Any, **options: Any) -> None:
        self.quiet = data is not None and any(data.get(name) for name in self.ASKS)
        if self.TYPE and data is not None and data.get("as"):
            data = data.copy()
            data[self.TYPE] = data["as"]
        if options.get("instance") is None:
            # A new thing begins with what is usual.
            model: type[Any] = self._meta.model
            usual = model_to_dict(model(), fields=self._meta.fields)
            given = {k: v for k, v in usual.items() if v not in (None, "", [])}
            options["initial"] = {**given, **(options.get("initial") or {})}
        super().__init__(data, *arguments, **options)
        self.instance.owner = owner
        self.kept: list[tuple[str, str]] = []
        if self.TYPE:
            self._show_type()
        columns = {c.name: c for c in self._meta.model._meta.concrete_fields}
        for name, field in self.fields.items():
            if isinstance(field, ParsedField) and name in columns and columns[name].has_default():
                field.usual = columns[name].get_default()

    def _show_type(self) -> None:
        """Leave the fields of its sort only; what was typed for others goes along unseen."""
        chosen: Any = self.fields[self.TYPE]
        types = [str(key) for key, _ in chosen.choices if key]
        asked = self.data.get(self.TYPE) if self.is_bound else self.initial.get(self.TYPE)
        self.shown_type = asked if asked in types else types[0]
        chosen.widget = forms.HiddenInput()
        others = {name for names in self.BY_TYPE.values() for name in names}
        for name in others - set(self.BY_TYPE.get(self.shown_type, ())):
            del self.fields[name]
            if self.is_bound and self.data.get(name):
                self.kept.append((name, self.data[name]))
        data: Any = self.data
        if self.is_bound and data.get("as"):
            # What no form has asked for yet begins with what is usual.
            for name, field in self.fields.items():
                usual = field.prepare_value(self.initial.get(name))
                if name not in data and usual not in (None, "", False):
                    data[name] = "on" if usual is True else usual

    @property
    def types(self) -> list[tuple[str, str, bool]]:
        """What sorts there are: value, label, and whether it is the present one."""
        if not self.TYPE:
            return []
        chosen: Any = self.fields[self.TYPE]
        return [
            (key, self.TYPE_LABELS.get(key, capfirst(label)), key == self.shown_type)
            for key, label in chosen.choices
        ]

    @property
    def type_errors(self) -> list[str]:
        """What is wrong with the sort that was chosen."""
        return (
            [str(one) for one in self.errors.get(self.TYPE, ())]
            if self.is_bound and self.TYPE
            else []
        )

    def full_clean(self) -> None:
        """Judge it, unless only another look of it was asked for."""
        super().full_clean()
        if self.quiet:
            self._errors = ErrorDict()

    def is_valid(self) -> bool:
        """True if it is right and nothing else is asked for."""
        return not self.quiet and bool(super().is_valid())

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
        names = self.FIRST or [name for name in self.fields if name != self.TYPE]
        return [self[name] for name in names if name in self.fields]

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

"""Forms that two windows have open at once: each writes what was changed in it, and nothing else.

A form carries what it showed (``shown``, texts by the names of its fields, as JSON). When it comes
back, a field that still reads so was not changed there: it takes the value it has by now. What
somebody else changed meanwhile is said. A form without ``shown`` is taken whole.
"""

import json
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.forms import BaseForm, BaseFormSet
from django.forms.boundfield import BoundField
from django.http import HttpRequest, QueryDict

SHOWN = "shown"
# Of the fields Django adds to lines that come and go: how many there are, and which are struck out.
TOTAL, STRUCK = "TOTAL_FORMS", "DELETE"
LINE_NAME = "name"
# Texts of each field by its name; a list of marks that are ticked, each by its value.
Texts = Mapping[str, list[str]]


@dataclass(frozen=True, slots=True)
class Meanwhile:
    """A field that somebody else changed after a form was shown.

    ``sent`` is what this form wants instead, None where it says nothing of it. ``now`` is None
    where the field is not asked for any more.
    """

    name: str
    was: tuple[str, ...]
    now: tuple[str, ...] | None
    sent: tuple[str, ...] | None


@dataclass(frozen=True, slots=True)
class Merged:
    """What came of a form: its data, what was changed meanwhile, and groups that do not fit.

    ``torn`` are prefixes of lines that were changed on both sides so that nobody can say which
    line is which: nothing of them may be written before somebody has looked.
    """

    data: QueryDict
    meanwhile: tuple[Meanwhile, ...] = ()
    torn: tuple[str, ...] = ()


def texts_of(form: BaseForm) -> dict[str, list[str]]:
    """What a browser would send of a form that nobody touched, files apart."""
    return {
        bound.html_name: _texts(bound) for bound in form
        if not bound.field.widget.needs_multipart_form
    }  # fmt: skip


def texts_of_lines(lines: "BaseFormSet[Any]") -> dict[str, list[str]]:
    """The same of lines that come and go, with how many there are."""
    found = texts_of(lines.management_form)
    for line in lines.forms:
        found |= texts_of(line)
    return found


def ticked_in(form: BaseForm) -> set[str]:
    """The names of fields whose values are ticked one by one."""
    return {
        bound.html_name for bound in form
        if getattr(bound.field.widget, "allow_multiple_selected", False)
    }  # fmt: skip


def _texts(bound: BoundField) -> list[str]:
    widget = bound.field.widget
    drawn = widget.get_context(bound.html_name, bound.value(), {})["widget"]
    if "optgroups" in drawn:
        options = [one for _, group, _ in drawn["optgroups"] for one in group]
        chosen = [str(one["value"]) for one in options if one["selected"]]
        # A list of which nothing is chosen shows its first entry, and sends it.
        shows_first = widget.input_type == "select" and not widget.allow_multiple_selected
        return chosen or ([str(options[0]["value"])] if shows_first and options else [])
    if drawn.get("type") == "checkbox":
        return ["on"] if drawn["attrs"].get("checked") else []
    return ["" if drawn["value"] is None else str(drawn["value"])]


def shown_text(texts: Texts) -> str:
    """What a form shows, as it carries it."""
    return json.dumps(texts, ensure_ascii=False, separators=(",", ":"))


def shown_by(sent: QueryDict) -> dict[str, list[str]] | None:
    """What a form was shown with; None where it does not say, or nothing that can be read."""
    try:
        found = json.loads(sent.get(SHOWN, ""))
    except ValueError:
        return None
    if not isinstance(found, dict):
        return None
    return {
        name: [str(one) for one in texts] for name, texts in found.items()
        if isinstance(texts, list)
    }  # fmt: skip


def _same(one: Iterable[str], other: Iterable[str]) -> bool:
    return _plain(one) == _plain(other)


def _plain(texts: Iterable[str]) -> list[str]:
    """Texts as they are compared: browsers send the ends of lines in their own way."""
    return [text.replace("\r\n", "\n").strip() for text in texts]


def merge(
    sent: QueryDict, present: Texts, ticked: Collection[str] = (), lines: Collection[str] = ()
) -> Merged:
    """The data of a form that came back, with what was not changed in it as it is by now.

    ``present`` is what the form would show now. Values of ``ticked`` fields come and go one by
    one. ``lines`` are prefixes of lines that come and go.
    """
    shown = shown_by(sent)
    if shown is None:
        return Merged(sent)
    data, meanwhile = sent.copy(), list[Meanwhile]()
    torn = [prefix for prefix in lines if _is_torn(f"{prefix}-", sent, shown, present)]
    for name in {**shown, **present}:
        prefix = next((one for one in lines if name.startswith(f"{one}-")), None)
        if prefix in torn:
            continue
        was, now, typed = shown.get(name, []), present.get(name), sent.getlist(name)
        if name not in shown and (prefix is None or name in sent):
            continue
        if _same(was, now or []):
            continue
        touched = not _same(was, typed)
        kept = list(now or []) if not touched else typed
        if name in ticked and touched:
            kept = [one for one in now or [] if one not in was or one in typed]
            kept += [one for one in typed if one not in was and one not in kept]
        data.setlist(name, kept)
        if now is None:
            del data[name]
        # Of a line that came meanwhile, that there is one more says enough.
        if name in shown and (not touched or not _same(now or [], typed)):
            meanwhile.append(Meanwhile(
                name, tuple(was), None if now is None and touched else tuple(now or ()),
                tuple(kept) if touched else None,
            ))  # fmt: skip
    return Merged(data, tuple(meanwhile), tuple(torn))


def _is_torn(prefix: str, sent: QueryDict, shown: Texts, present: Texts) -> bool:
    """Whether lines were changed on both sides, and it cannot be said which line is which."""
    own = {name for name in {**shown, **present, **dict(sent.lists())} if name.startswith(prefix)}
    ours = any(not _same(shown.get(name, []), sent.getlist(name)) for name in own)
    theirs = any(not _same(shown.get(name, []), present.get(name, [])) for name in own)
    if not (ours and theirs):
        return False
    total = f"{prefix}{TOTAL}"
    counts = {tuple(_plain(texts)) for texts in (
        shown.get(total, []), present.get(total, []), sent.getlist(total))}  # fmt: skip
    if len(counts) > 1 or any(
        name.endswith(f"-{STRUCK}") and sent[name] for name in own & set(sent)
    ):
        return True
    return any(
        name.endswith(f"-{LINE_NAME}") and not _same(shown.get(name, []), present.get(name, []))
        and _replaced(name.removesuffix(LINE_NAME), shown, present)
        for name in own
    )  # fmt: skip


def _replaced(line: str, shown: Texts, present: Texts) -> bool:
    """Whether a line under another name is another line, and not the same one renamed."""
    rest = [name for name in shown if name.startswith(line) and name != f"{line}{LINE_NAME}"]
    return any(not _same(shown[name], present.get(name, [])) for name in rest)


def merged_form(request: HttpRequest, form: type[Any], instance: Any) -> Any:
    """A form as it was sent for a stored row, merged; what was changed meanwhile is said."""
    now = form(instance=instance)
    data = merged_data(request, texts_of(now), Wording.of(now), ticked_in(now))
    return form(data, instance=instance)


def merged_data(
    request: HttpRequest, present: Texts, wording: "Wording", ticked: Collection[str] = ()
) -> QueryDict:
    """What a form sent, merged; what was changed meanwhile is said."""
    merged = merge(request.POST, present, ticked)
    for said in wording.said(merged):
        messages.info(request, said)
    return merged.data


def without_same(data: QueryDict, present: Texts, *together: Collection[str]) -> QueryDict:
    """What a form sent without the fields that are so already; ``together`` go or stay together."""
    same = {name for name, texts in present.items() if _same(data.getlist(name), texts)}
    for names in together:
        if not same.issuperset(names):
            same -= set(names)
    left = data.copy()
    for name in same & set(left):
        del left[name]
    return left


class Wording:
    """The words for what was changed meanwhile, by the labels and choices of a form."""

    def __init__(self, fields: Mapping[str, Any], labels: Mapping[str, str] | None = None) -> None:
        self.fields, self.labels = fields, labels or {}

    @classmethod
    def of(cls, form: BaseForm, **lines: "BaseFormSet[Any]") -> "Wording":
        """The words of a form and of its lines by their prefix."""
        fields: dict[str, Any] = {**getattr(form, "base_fields", {}), **form.fields}
        labels = dict[str, str]()
        for prefix, group in lines.items():
            labels[f"{prefix}-{TOTAL}"] = f"Number of {prefix}"
            for at, line in enumerate(group.forms):
                for name, field in line.fields.items():
                    key = line.add_prefix(name)
                    fields[key] = field
                    labels[key] = f"{prefix} {at + 1}, {field.label or name}"
        return cls(fields, labels)

    def said(self, merged: Merged) -> list[str]:
        """A sentence for each way a change can have met another."""
        found = []
        stays = [one for one in merged.meanwhile if one.sent is None and self._named(one)]
        if stays:
            told = "; ".join(self._change(one) for one in stays)
            found.append(f"Changed meanwhile, and left so: {told}.")
        both = [one for one in merged.meanwhile if one.sent is not None and one.now is not None]
        if both:
            told = "; ".join(self._change(one) for one in both)
            found.append(f"Changed meanwhile as well, and here as you have it: {told}.")
        gone = [self._label(one.name) for one in merged.meanwhile if one.now is None]
        if gone:
            found.append(
                "Not asked for any more since somebody else changed this, so not kept: "
                f"{', '.join(gone)}."
            )
        return found

    def torn(self, prefix: str) -> str:
        """What is said where lines were changed on both sides."""
        return (
            f"The {prefix} were changed meanwhile as well, so that lines cannot be told apart. "
            "Nothing is kept yet: yours stand here; save once more to put them in place of those."
        )

    def _named(self, one: Meanwhile) -> bool:
        return one.name in self.fields or one.name in self.labels

    def _label(self, name: str) -> str:
        if name in self.labels:
            return self.labels[name]
        field = self.fields.get(name)
        return str(field.label) if field is not None and field.label else _readable(name)

    def _change(self, one: Meanwhile) -> str:
        was, now = self._value(one.name, one.was), self._value(one.name, one.now or ())
        return f"{self._label(one.name)}, from {was} to {now}"

    def _value(self, name: str, texts: Iterable[str]) -> str:
        field = self.fields.get(name)
        choices = {str(key): str(label) for key, label in getattr(field, "choices", None) or ()}
        if getattr(getattr(field, "widget", None), "input_type", "") == "checkbox" and not choices:
            return "ticked" if any(texts) else "not ticked"
        words = [choices.get(text, text) for text in texts if text]
        return (
            ", ".join(word if len(word) <= 60 else f"{word[:59]}…" for word in words) or "nothing"
        )


def _readable(name: str) -> str:
    words = name.replace("_", " ").strip()
    return words[:1].upper() + words[1:]

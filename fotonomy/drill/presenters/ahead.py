"""An exercise that is taken along: its question, its answer and why, graded by a small script."""

from typing import Any

from django.utils.safestring import SafeString, mark_safe

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.drill.answers import Amount, OneOf, Order, Settings, SomeOf
from fotonomy.core.drill.exercise import Exercise
from fotonomy.figures.svg import Size
from fotonomy.figures.tiles import tile_figure

SIZE = Size(350, 130, 14)


def ahead_of(exercise: Exercise) -> dict[str, Any] | None:
    """What a page needs to ask and grade it. None for what only the server can grade.

    An amount goes along with the edges of right and close, so that no curve is needed.
    """
    answer = exercise.answer
    base: dict[str, Any] = {
        "kind": exercise.kind.value, "level": exercise.level, "seed": exercise.seed,
        "label": exercise.kind.label, "ask": exercise.ask, "facts": list(exercise.facts),
        "why": exercise.why, "said": answer.said, "drawn": _drawn(exercise),
    }  # fmt: skip
    match answer:
        case OneOf():
            return base | {"form": "one", "options": _options(answer), "right": [answer.right]}
        case SomeOf():
            return base | {
                "form": "some", "options": _options(answer), "right": sorted(answer.right),
            }  # fmt: skip
        case Amount() if answer.scale != "level" and not answer.glass:
            return base | {
                "form": "amount", "unit": answer.unit, "scale": answer.scale, "value": answer.value,
                "to": answer.to if answer.to is not None else answer.value,
                "low": answer.low, "high": answer.high,
            }  # fmt: skip
        case Settings() | Order() | Amount():
            return None
    return None


def _options(answer: OneOf | SomeOf) -> list[dict[str, str]]:
    return [{"key": one.key, "words": one.words} for one in answer.options]


def _drawn(exercise: Exercise) -> list[SafeString]:
    """Drawings only where the question lives from them."""
    if exercise.kind.value != "which-one":
        return []
    # Markup from our own figures, which escape every text a person typed.
    return [
        mark_safe(tile_figure(exercise.tiles[0], analyse(one), SIZE)) for one in exercise.setups
    ]

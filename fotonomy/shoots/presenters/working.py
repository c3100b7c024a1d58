"""The working of a number, and the list of a setup's numbers, ready for the templates."""

from collections.abc import Callable, Iterable, Mapping
from contextlib import suppress
from dataclasses import dataclass
from urllib.parse import urlencode

from django.urls import reverse

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.errors import RuleError
from fotonomy.core.findings.finding import Finding, Severity
from fotonomy.core.kinds import rules_of
from fotonomy.core.notation.writing import format_signed, format_stops
from fotonomy.core.plan import plan
from fotonomy.core.spec.changes import Change, applied
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.core.tiles import Tile
from fotonomy.core.traced_numbers import Names, marked
from fotonomy.core.working.catalog import quantity_of, value_in
from fotonomy.core.working.explain import Lever, Working, names_in, working_of
from fotonomy.core.working.in_signs import functions_of, lines_in_signs
from fotonomy.core.working.mathml import equation
from fotonomy.core.working.notation import IN_SIGNS
from fotonomy.core.working.quantity import NoSuchNumberError
from fotonomy.core.working.standalone.working import Topic, loose_working
from fotonomy.core.working.symbols import number_text
from fotonomy.core.working.worked import Line
from fotonomy.exchange.changes_json import changes_of, press_of
from fotonomy.shoots.models import Setup

# Names of findings among the names of numbers.
FINDING = "finding."


def names_for(row: Setup, more: str = "") -> Names:
    """Where the workings of a setup's numbers are; ``more`` goes with every address."""
    return Names(f"{row.get_absolute_url()}working/", f"/{more}")


# What a plan that is offered would change: the numbers are then those of the plan.
WITH = "with"


def with_changes(changes: Iterable[Change]) -> str:
    """What goes with the addresses of workings where a plan would change something first."""
    press = press_of(changes)
    return f"?{urlencode({WITH: press})}" if press else ""


def loose(text: str, name: str, **given: float) -> str:
    """A text that leads to the working of a number of no setup, with the values it is made of."""
    return marked(text, f"{reverse('loose', args=[name])}?{urlencode(given)}")


@dataclass(frozen=True, slots=True)
class LineView:
    """One step: in symbols (as text, and as MathML) and with numbers, its result, when it holds."""

    symbol: str
    formula: str
    math: str
    numbers: str
    result: str
    when: str


@dataclass(frozen=True, slots=True)
class InputView:
    """One input; ``to`` is where its own working is, empty where there is none.

    ``inputs`` are what it is made of in turn, as far as the tree is drawn.
    """

    symbol: str
    words: str
    text: str
    to: str
    constant: bool
    inputs: tuple["InputView", ...] = ()


@dataclass(frozen=True, slots=True)
class LeverView:
    """What would change the number: what is moved, by how much, and to what.

    ``bar`` is the change as a share of the strongest, from 0 to 100, and ``more`` its direction.
    """

    what: str
    change: str
    to: str
    bar: int = 0
    more: bool = True

    @property
    def left(self) -> int:
        """Where its bar begins on a line from 0 to 200, nothing being at 100."""
        return 100 if self.more else 100 - self.bar


@dataclass(frozen=True, slots=True)
class EffectView:
    """What moving a setting does to one number: its words, before and after, its working."""

    words: str
    before: str
    after: str
    to: str


@dataclass(frozen=True, slots=True)
class WorkingView:
    """A working as the templates draw it.

    ``text`` is the number with its unit. ``formula_id`` and ``source_id`` are those of
    docs/formulas.md and of plan files. ``all`` is where the other numbers of its tile are.
    """

    name: str
    symbol: str
    says: str
    text: str
    lines: tuple[LineView, ...]
    inputs: tuple[InputView, ...]
    source: str
    standing: str
    sure: str
    levers: tuple[LeverView, ...]
    all: str
    moved: str = ""
    effects: tuple[EffectView, ...] = ()


@dataclass(frozen=True, slots=True)
class FixedView:
    """A way out of a finding: its words, its price, and what the number becomes."""

    label: str
    price: str
    then: str


@dataclass(frozen=True, slots=True)
class FindingWorking:
    """How a finding came about: its number, its reason, what each way out does to it."""

    name: str
    what: str
    why: str
    text: str
    grade: str
    fixes: tuple[FixedView, ...]
    all: str


@dataclass(frozen=True, slots=True)
class NumberView:
    """A number in a list: its symbol, sentence and value, and where its working is."""

    symbol: str
    says: str
    text: str
    to: str


@dataclass(frozen=True, slots=True)
class NumbersView:
    """The numbers of one tile."""

    name: str
    label: str
    numbers: tuple[NumberView, ...]


def spec_with(spec: Spec, press: str) -> Spec:
    """A setup with the changes that a plan beside it would make. RuleError for what is none."""
    return applied(spec, changes_of(press)) if press else spec


def _result(line: Line) -> str:
    """The result where the numbers do not say it already."""
    text = number_text(line.value, line.unit)
    return "" if text == line.numbers else text


def _lever(lever: Lever, unit: str, whole: bool, strongest: float) -> LeverView:
    size = abs(lever.change)
    change = format_signed(lever.change, 0 if whole else 2)
    if not whole and size < 0.01:
        change = f"{lever.change:+.2g}".replace("-", "−")
    bar = max(1, round(100 * size / strongest))
    return LeverView(lever.what, change, number_text(lever.to, unit), bar, lever.change > 0)


# So many steps down the tree of what a number is made of are drawn; each leads on.
TREE_STEPS = 2


def _inputs(
    found: Working, names: Names, again: Callable[[str], Working], steps: int = TREE_STEPS
) -> tuple[InputView, ...]:
    """What goes into a number, and what goes into that."""
    made = []
    for one in found.inputs:
        below: tuple[InputView, ...] = ()
        if one.name and steps:
            with suppress(NoSuchNumberError):
                below = _inputs(again(one.name), names, again, steps - 1)
        to = names.of(one.name) if one.name else ""
        made.append(InputView(one.symbol, one.words, one.text, to, one.constant, below))
    return tuple(made)


def working_view(analysis: Analysis, name: str, names: Names) -> WorkingView:
    """The working of one number. Raises NoSuchNumberError for a name that no setup has."""
    found = working_of(analysis, name)
    tile = found.quantity.tile
    others = names.many(tile) if tile else names.of("all")

    def again(name: str) -> Working:
        return working_of(analysis, name, levers=False)

    return _view(found, names, others, "not in this setup", again)


def loose_view(name: str, given: Mapping[str, float]) -> WorkingView:
    """The working of a number of no setup. Raises as ``loose_working`` does."""
    found = loose_working(name, given)
    # What a number is worked out of has its working of the same values.
    before = reverse("loose", args=[name]).removesuffix(f"{name}/")
    names = Names(before, f"/?{urlencode(given)}")
    others = reverse("topic", args=[found.quantity.tile])
    return _view(found, names, others, "", lambda one: loose_working(one, given))


def _view(
    found: Working, names: Names, others: str, without: str, again: Callable[[str], Working]
) -> WorkingView:
    quantity = found.quantity
    strongest = max((abs(one.change) for one in found.levers), default=0.0)
    text = without if found.value is None else found.text
    return WorkingView(
        name=found.name, symbol=quantity.symbol, says=quantity.says, text=text,
        lines=tuple(
            LineView(
                one.symbol, one.formula, equation(one.symbol, one.tree), one.numbers,
                _result(one), one.when,
            )
            for one in found.lines
        ),
        inputs=_inputs(found, names, again),
        source=found.source.words, standing=found.source.standing.value, sure=quantity.sure,
        levers=tuple(
            _lever(one, quantity.unit, isinstance(found.value, int), strongest)
            for one in found.levers
        ),
        moved=found.moved,
        effects=tuple(
            EffectView(
                one.quantity.says.rstrip("."), number_text(one.before, one.quantity.unit),
                number_text(one.after, one.quantity.unit), names.of(one.name),
            )
            for one in found.effects
        ),
        all=others,
    )  # fmt: skip


def finding_working(spec: Spec, name: str, names: Names) -> FindingWorking:
    """How a finding came about. Raises NoSuchNumberError where the setup has none of this id."""
    planned = plan(spec, names)
    wanted = name.removeprefix(FINDING)
    found = next((one for one in planned.findings if one.id == wanted), None)
    if found is None:
        raise NoSuchNumberError(name)
    tile = found.family.tile_among(rules_of(spec).tiles)
    return FindingWorking(
        name=name, what=found.what, why=found.why,
        text=number_text(float(found.number), found.unit),
        grade="must fix" if found.severity is Severity.STOP else "caution",
        fixes=tuple(
            FixedView(
                fix.label,
                f"{format_signed(fix.price_stops)} stops" if fix.changes else "",
                _then(spec, found, fix.changes),
            )
            for fix in found.fixes
        ),
        all=names.many(tile.value),
    )  # fmt: skip


def _then(spec: Spec, finding: Finding, changes: tuple[Change, ...]) -> str:
    """What becomes of a finding's number once a fix is applied."""
    if not changes:
        return ""
    try:
        after = plan(applied(spec, changes))
    except RuleError:
        return ""
    left = next((one for one in after.findings if one.family is finding.family), None)
    if left is None:
        over = after.analysis.budget.error_stops
        light = "the light is in balance" if abs(over) < 0.18 else (
            f"the light is then {format_stops(over)} {'over' if over > 0 else 'under'}"
        )  # fmt: skip
        return f"the finding goes; {light}"
    return f"it becomes {number_text(float(left.number), left.unit)}"


def numbers_view(spec: Spec, names: Names, tile: str = "") -> tuple[NumbersView, ...]:
    """Every number of a setup by the tile it shows in, or those of one tile."""
    analysis = analyse(spec)
    tiles: dict[str, list[NumberView]] = {}
    for name in names_in(analysis):
        quantity = quantity_of(spec.kind, name)
        value = value_in(analysis, name)
        if value is None or not quantity.tile or (tile and quantity.tile != tile):
            continue
        view = NumberView(
            quantity.symbol, quantity.says, number_text(value, quantity.unit), names.of(name)
        )
        tiles.setdefault(quantity.tile, []).append(view)
    return tuple(
        NumbersView(key, Tile(key).label, tuple(numbers)) for key, numbers in tiles.items()
    )


@dataclass(frozen=True, slots=True)
class FormulaLine:
    """A line of a formula in symbols: as text, and as MathML."""

    text: str
    math: str


@dataclass(frozen=True, slots=True)
class FormulaView:
    """A number of a topic: its symbol, sentence, formula in symbols, source, how sure it is."""

    symbol: str
    says: str
    lines: tuple[FormulaLine, ...]
    source: str
    sure: str


@dataclass(frozen=True, slots=True)
class TopicView:
    """How the numbers of a kind of page are worked out."""

    name: str
    formulas: tuple[FormulaView, ...]


def topic_view(topic: Topic) -> TopicView:
    """A topic's formulas in symbols."""
    return TopicView(topic.name, tuple(
        FormulaView(
            one.symbol, one.says,
            tuple(
                FormulaLine(
                    f"{line.sign.symbol} = {IN_SIGNS.of(line.tree)}",
                    equation(line.sign.symbol, line.tree),
                )
                for form in functions_of(one) for line in lines_in_signs(one, form)
            ),
            one.origin.words, one.sure,
        )
        for one in topic.quantities
    ))  # fmt: skip

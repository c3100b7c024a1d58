"""The working of a number, and the list of a setup's numbers, ready for the templates."""

from dataclasses import dataclass

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.errors import RuleError
from fotonomy.core.findings.finding import Finding, Severity
from fotonomy.core.kinds import rules_of
from fotonomy.core.named import Names
from fotonomy.core.notation.writing import format_signed, format_stops
from fotonomy.core.plan import plan
from fotonomy.core.spec.changes import Change, applied
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.core.tiles import Tile, tile_of
from fotonomy.core.working.catalog import quantity_of, value_in
from fotonomy.core.working.explain import Lever, Working, names_in, working_of
from fotonomy.core.working.expressions import Line
from fotonomy.core.working.quantity import NoSuchNumberError
from fotonomy.core.working.symbols import number_text
from fotonomy.exchange.changes_json import changes_of
from fotonomy.shoots.models import Setup

# Names of findings among the names of numbers.
FINDING = "finding."


def names_for(row: Setup, more: str = "") -> Names:
    """Where the workings of a setup's numbers are; ``more`` goes with every address."""
    return Names(f"{row.get_absolute_url()}working/", f"/{more}")


@dataclass(frozen=True, slots=True)
class LineView:
    """One step: in symbols and with numbers, its result, and when it holds."""

    symbol: str
    formula: str
    numbers: str
    result: str
    when: str


@dataclass(frozen=True, slots=True)
class InputView:
    """One input; ``to`` is where its own working is, empty for a constant."""

    symbol: str
    words: str
    text: str
    to: str


@dataclass(frozen=True, slots=True)
class LeverView:
    """What would change the number: what is moved, by how much, and to what."""

    what: str
    change: str
    to: str


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


def _lever(lever: Lever, unit: str, whole: bool) -> LeverView:
    size = abs(lever.change)
    if whole:
        return LeverView(lever.what, format_signed(lever.change, 0), number_text(lever.to, unit))
    change = format_signed(lever.change, 2) if size >= 0.01 else f"{lever.change:+.2g}"
    return LeverView(lever.what, change.replace("-", "−"), number_text(lever.to, unit))


def working_view(analysis: Analysis, name: str, names: Names) -> WorkingView:
    """The working of one number. Raises NoSuchNumberError for a name that no setup has."""
    found: Working = working_of(analysis, name)
    quantity = found.quantity
    text = "not in this setup" if found.value is None else found.text
    return WorkingView(
        name=name, symbol=quantity.symbol, says=quantity.says, text=text,
        lines=tuple(
            LineView(one.symbol, one.formula, one.numbers, _result(one), one.when)
            for one in found.lines
        ),
        inputs=tuple(
            InputView(one.symbol, one.words, one.text, names.of(one.name) if one.name else "")
            for one in found.inputs
        ),
        source=found.source.words, standing=found.source.standing.value, sure=quantity.sure,
        levers=tuple(
            _lever(one, quantity.unit, isinstance(found.value, int)) for one in found.levers
        ),
        moved=found.moved,
        effects=tuple(
            EffectView(
                one.quantity.says.rstrip("."), number_text(one.before, one.quantity.unit),
                number_text(one.after, one.quantity.unit), names.of(one.name),
            )
            for one in found.effects
        ),
        all=names.many(quantity.tile) if quantity.tile else names.of("all"),
    )  # fmt: skip


def finding_working(spec: Spec, name: str, names: Names) -> FindingWorking:
    """How a finding came about. Raises NoSuchNumberError where the setup has none of this id."""
    planned = plan(spec, names)
    wanted = name.removeprefix(FINDING)
    found = next((one for one in planned.findings if one.id == wanted), None)
    if found is None:
        raise NoSuchNumberError(name)
    tile = tile_of(found.id, rules_of(spec).tiles)
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
    left = next((one for one in after.findings if one.id == finding.id), None)
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

"""What goes on paper: a line a setup, a card a setup, the packing list. Words and numbers only."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date
from math import ceil

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.packing import worn_words
from fotonomy.core.analysis.ramp_programme import ramp_in_one_line, ramp_lines
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.findings.finding import Severity
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.spoken import said_distance, said_light, said_reach
from fotonomy.core.plan import Plan, plan
from fotonomy.core.readout import ReadoutItem
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.figures.lanes.clip import size_words
from fotonomy.shoots.mapping import UnplannableError, spec_of, whole_rows
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.presenters.packing import MOST_CODES, SectionView, packing_view

# More than this is no day's paper; the rest is said to be left out.
MOST_SETUPS = 300


@dataclass(frozen=True, slots=True)
class CardView:
    """One setup on paper. ``trouble`` says why it cannot be planned, "" where it can."""

    key: int
    code: str
    title: str
    hour: str
    date: date
    place: str
    kind: str
    items: tuple[ReadoutItem, ...]
    camera: str
    lens: str
    glass: str
    carried: str
    focus: str
    light: str
    clip: str
    asks: tuple[str, ...]
    ramp: str
    ramp_lines: tuple[tuple[str, str], ...]
    musts: tuple[tuple[str, str], ...]
    cautions: tuple[tuple[str, str], ...]
    notes: str
    trouble: str = ""
    run_words: str = ""
    clip_s: str = ""
    distance: str = ""
    prepare_min: float = 0.0
    analysis: Analysis | None = None

    def value(self, label: str) -> str:
        """What one thing is set to, "" where the kind has no such thing."""
        return next((item.value for item in self.items if item.label == label), "")

    @property
    def first(self) -> str:
        """The value of frame rate, interval or drive."""
        return self.items[0].value if self.items else ""

    @property
    def shutter(self) -> str:
        """The shutter, and the time it comes to where it is set in degrees."""
        item = next((item for item in self.items if item.label == "Shutter"), None)
        return "" if item is None else f"{item.value} {item.detail}".strip()

    @property
    def shutter_value(self) -> str:
        """The shutter as it is set."""
        return self.value("Shutter")

    @property
    def shutter_detail(self) -> str:
        """The time that a shutter in degrees comes to."""
        return self._detail("Shutter")

    @property
    def nd(self) -> str:
        """The density in front of the lens, or that there is none."""
        return self.value("ND")

    @property
    def nd_number(self) -> str:
        """The density alone, as a column of densities has it."""
        return self.nd.removeprefix("ND ")

    @property
    def white_k(self) -> str:
        """The white balance without its unit, as a column of kelvins has it."""
        return self.white.removesuffix(" K")

    @property
    def nd_detail(self) -> str:
        """The strength of the ND in stops, and the pieces; other filters where there is no ND."""
        found = self._detail("ND") or (self.glass if self.glass != "no filter" else "")
        # A piece that is called as its density is need not be said twice.
        return found.replace(f", {self.nd},", ",").removesuffix(f", {self.nd}")

    @property
    def zebras(self) -> tuple[str, ...]:
        """What the zebras are set to, in percent; none where there are none."""
        found = (item.value for item in self.items if item.label.startswith("Zebra"))
        return tuple(value.replace(" %", "") for value in found)

    @property
    def lens_and_distance(self) -> str:
        """The lens, and how far its subject is."""
        return ", ".join(part for part in (self.lens, self.distance) if part)

    def _detail(self, label: str) -> str:
        return next((item.detail for item in self.items if item.label == label), "")

    @property
    def iris(self) -> str:
        """The iris as said."""
        return self.value("Iris")

    @property
    def iso(self) -> str:
        """The ISO."""
        return self.value("ISO")

    @property
    def white(self) -> str:
        """The white balance."""
        return self.value("White")


@dataclass(frozen=True, slots=True)
class PaperView:
    """A shoot on paper. ``left_out`` counts the setups beyond the most there can be."""

    cards: tuple[CardView, ...]
    left_out: int


def paper_view(shoot: Shoot) -> PaperView:
    """Every setup of a shoot in the running order, planned anew."""
    rows = list(whole_rows(shoot)[: MOST_SETUPS + 1])
    left_out = shoot.setups.count() - MOST_SETUPS if len(rows) > MOST_SETUPS else 0
    packed = packed_kit(shoot)
    cards = []
    for row in rows[:MOST_SETUPS]:
        row.shoot = shoot
        try:
            cards.append(_card(row, plan(spec_of(row, packed))))
        except UnplannableError as error:
            cards.append(_unplannable(row, f"cannot be planned: {error.field} {error.rule}"))
    # A day's setups stand together, in the running order.
    return PaperView(tuple(sorted(cards, key=lambda card: card.date)), left_out)


SHEET_COLUMNS = (
    "day", "hour", "setup", "title", "kind", "place", "camera", "lens", "rate", "shutter", "iris",
    "ISO", "white", "filters", "ramp", "must-fixes", "notes",
)  # fmt: skip


def call_sheet_rows(view: PaperView) -> Iterator[tuple[str, ...]]:
    """The call sheet as rows of text under SHEET_COLUMNS."""
    for card in view.cards:
        musts = card.trouble or "; ".join((*card.asks, *(what for what, _ in card.musts)))
        yield (
            card.date.isoformat(), card.hour, card.code, card.title, card.kind, card.place,
            card.camera, card.lens, card.first, card.shutter, card.iris, card.iso, card.white,
            card.glass, card.ramp, musts, card.notes,
        )  # fmt: skip


# More changes than this on a card are on the program to carry.
MOST_RAMP_LINES = 12


def _ramp_lines(setup: Spec, run: IntervalRun) -> tuple[tuple[str, str], ...]:
    """When and what to set on the way, evenly thinned where a card has no room for all.

    What takes the glass off is never left out.
    """
    lines = ramp_lines(setup, run)
    if len(lines) > MOST_RAMP_LINES:
        stride = -(-len(lines) // MOST_RAMP_LINES)
        kept = {*range(0, len(lines), stride), len(lines) - 1}
        kept |= {k for k, line in enumerate(lines) if "ND" in line.words}
        lines = tuple(line for k, line in enumerate(lines) if k in kept)
    return tuple(
        (f"{line.at:%H:%M:%S}" if line.at else n.format_duration(line.press_s), line.words)
        for line in lines
    )


def _run_words(setup: Spec, run: IntervalRun) -> str:
    """How a run goes: its interval, its frames, how long it takes."""
    every, lasts = n.format_duration(1 / setup.frame_rate), n.format_duration(run.covers_s)
    return f"every {every}, {run.frames} frames, {lasts}"


def _hour(row: Setup) -> str:
    return f"{row.planned_time:%H:%M}" if row.planned_time else ""


def _card(row: Setup, planned: Plan) -> CardView:
    analysis = planned.analysis
    setup, run = analysis.setup, analysis.run
    span = (
        f"{n.format_number(setup.focal_mm)} mm"
        if setup.lens.focal_longest_mm > setup.lens.focal_shortest_mm else ""
    )  # fmt: skip
    far = analysis.focus.far_m
    sharp = f"sharp from {said_reach(setup, analysis.focus.near_m)}" + (
        " on" if far == float("inf") else f" to {said_reach(setup, far)}"
    )
    found = [(f, (f.what, f.why)) for f in planned.findings]
    return CardView(
        key=row.pk, code=row.code, title=row.title or "Untitled", hour=_hour(row),
        date=row.day.date,
        place=row.place.name, kind=setup.kind.label,
        items=planned.readout, camera=f"{setup.body.name}, {setup.format.name}",
        lens=" at ".join(part for part in (setup.lens.name, span) if part),
        glass=worn_words(analysis) or "no filter", carried=setup.support.value,
        focus=f"{setup.subject} at {said_distance(setup, setup.subject_distance_m)}, {sharp}",
        light=said_light(setup),
        clip=f"{n.format_duration(analysis.clip.screen_s)} on screen, {size_words(analysis.clip)}",
        asks=tuple(one.what for one in planned.questions),
        ramp=ramp_in_one_line(setup, run) if isinstance(run, IntervalRun) else "",
        ramp_lines=_ramp_lines(setup, run) if isinstance(run, IntervalRun) else (),
        musts=tuple(words for f, words in found if f.severity is Severity.STOP),
        cautions=tuple(words for f, words in found if f.severity is not Severity.STOP),
        notes=row.notes,
        run_words=_run_words(setup, run) if isinstance(run, IntervalRun) else "",
        clip_s=n.format_duration(
            analysis.clip.screen_s if setup.records_stills else analysis.clip.record_s
        ),
        distance=said_distance(setup, setup.subject_distance_m),
        prepare_min=setup.schedule.prepare_min, analysis=analysis,
    )  # fmt: skip


def _unplannable(row: Setup, trouble: str) -> CardView:
    return CardView(
        key=row.pk, code=row.code, title=row.title or "Untitled", hour=_hour(row),
        date=row.day.date,
        place=row.place.name, kind="", items=(),
        camera=row.body.name, lens=row.lens.name, glass="", carried="", focus="", light="", clip="",
        asks=(), ramp="", ramp_lines=(), musts=(), cautions=(), notes=row.notes, trouble=trouble,
    )  # fmt: skip


# A title takes the room of so many lines of a list.
TITLE_LINES = 2


@dataclass(frozen=True, slots=True)
class PackingPaper:
    """The packing list on paper: what comes along, sort by sort, and what it records."""

    sections: tuple[SectionView, ...]
    loads: tuple[object, ...]
    missing: tuple[str, ...]
    most_codes: int = MOST_CODES

    @property
    def columns(self) -> tuple[tuple[SectionView, ...], ...]:
        """The sections in two columns of about as many lines; one that is cut goes on as such.

        Split here and not by the style: to balance columns a PDF is set many times over.
        """
        room = ceil(sum(TITLE_LINES + len(one.things) for one in self.sections) / 2)
        left, right = list[SectionView](), list[SectionView]()
        for one in self.sections:
            # The first column has something in any case.
            fits = max(0 if left else 1, room - TITLE_LINES) if not right else 0
            if fits:
                left.append(replace(one, things=one.things[:fits]))
            if rest := one.things[fits:]:
                title = f"{one.title}, more" if fits else one.title
                right.append(replace(one, title=title, things=rest))
            room -= TITLE_LINES + len(one.things)
        return (tuple(left), tuple(right)) if right else (tuple(left),)


def packing_paper(shoot: Shoot) -> PackingPaper:
    """Only what is packed; the rest of the kit stays at home and off the paper."""
    view = packing_view(shoot)
    packed = (
        SectionView(s.field, s.title, tuple(t for t in s.things if t.packed))
        for s in view.sections
    )  # fmt: skip
    return PackingPaper(tuple(s for s in packed if s.things), view.loads, view.missing)

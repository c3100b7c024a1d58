"""A take as it is logged and listed, and what remains of a day."""

from collections import Counter
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from fotonomy.core.day.blocks import Block
from fotonomy.core.day.day_plan import minutes_text
from fotonomy.core.day.outline import Coverage, coverage
from fotonomy.core.exposure.scales import Option
from fotonomy.core.field.remaining_supplies import (
    LoggedTake,
    charge_left,
    gone_on_cards,
    left_on_card_gb,
    minutes_on_battery,
    minutes_on_card,
)
from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.table import by_name
from fotonomy.core.plan import Plan
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.schedule import ShotSize, Wanted
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.days.planning import PlannedDay
from fotonomy.field.intake import planned_texts
from fotonomy.field.models import Take
from fotonomy.field.presenters.card import counted, order_of
from fotonomy.shoots.models import Scene, Shoot
from fotonomy.shoots.models.held_rows import fault_words
from fotonomy.shoots.presenters.working import loose

REASONS = (
    "cloud", "soft", "shake", "flare", "strobed", "too noisy", "clipped", "someone in frame",
)  # fmt: skip
# So many values of a scale stand on either side of the planned one.
NEAR = 9


@dataclass(frozen=True, slots=True)
class SetField:
    """A setting of a take: its label, the planned value as text, and values to step through."""

    name: str
    label: str
    planned: str
    text: str
    steps: tuple[str, ...]
    error: str


def set_fields(
    made: Plan, differed: dict[str, str], errors: dict[str, str]
) -> tuple[SetField, ...]:
    """The settings of a take, as planned where they did not differ."""
    spec = made.analysis.setup
    fields = []
    for name, planned in planned_texts(spec).items():
        offer = made.analysis.offers.get(name)
        steps = _near(spec, name, offer.options if offer else (), planned)
        fields.append(SetField(
            name, by_name()[name].label, planned, differed.get(name, planned), steps,
            errors.get(name, ""),
        ))  # fmt: skip
    return tuple(fields)


def _near(spec: Spec, name: str, options: tuple[Option, ...], planned: str) -> tuple[str, ...]:
    """Marks of a scale about the planned value."""
    if name == "white_k":
        marks = {*range(2500, 10_001, 100), round(spec.white_k)}
        texts = [f"{kelvin} K" for kelvin in sorted(marks)]
    else:
        texts = [one.text for one in options]
    at = texts.index(planned) if planned in texts else None
    if at is None:
        return tuple(texts[: 2 * NEAR])
    return tuple(texts[max(0, at - NEAR) : at + NEAR + 1])


@dataclass(frozen=True, slots=True)
class TakeLine:
    """A take in a list."""

    key: int
    name: str
    clock: str
    verdict: str
    mark: str
    differed: str
    why: str
    more: str
    by: str
    fault: str = ""


VERDICT_MARKS = {"good": "●", "maybe": "◐", "no_good": "✕"}


@dataclass(frozen=True, slots=True)
class PictureView:
    """A picture of a take: what it is called, and what its camera wrote down."""

    key: int
    name: str
    words: str


# Of more pictures than this a take is a run or a burst, with pages of its own.
MOST_PICTURES = 6


def pictures_of(shoot: Shoot, take: Take) -> dict[str, Any]:
    """The pictures of a take for its page; where it is a run, how many frames and no more."""
    rows = shoot.pictures.filter(take_uid=take.uid)
    kind = shoot.setups.filter(pk=take.setup_key).values_list("kind", flat=True).first()
    is_run = rows.count() > MOST_PICTURES
    return {
        "pictures": [
            PictureView(row.pk, str(row), written_words(row.wrote, row.width, row.height))
            for row in rows[: 0 if is_run else MOST_PICTURES]
        ],
        "frames": rows.count() if is_run else 0,
        "is_burst": kind is not None and Kind(kind).traits.drive,
    }


def written_words(wrote: dict[str, Any], width: int, height: int) -> str:
    """What a camera wrote into its file, as people say it."""
    said = []
    if "exposure_s" in wrote:
        said.append(n.format_time(wrote["exposure_s"]))
    if "f_number" in wrote:
        said.append(f"f/{n.format_number(wrote['f_number'])}")
    if "iso" in wrote:
        said.append(f"ISO {wrote['iso']:.0f}")
    if "focal_mm" in wrote:
        said.append(f"{n.format_number(wrote['focal_mm'])} mm")
    if "fps" in wrote:
        said.append(f"{n.format_frame_rate(wrote['fps'])} fps")
    if "length_s" in wrote:
        said.append(f"film of {n.format_duration(wrote['length_s'])}")
    if "taken" in wrote:
        said.append(f"camera clock {wrote['taken'][11:16]}")
    if min(width, height) > 1:
        said.append(f"{width} × {height} px")
    return ", ".join(said)


def take_lines(shoot: Shoot, takes: list[Take]) -> list[TakeLine]:
    """Takes as a list, the last first."""
    zone = shoot.main_place.zone
    shown = Counter(shoot.pictures.values_list("take_uid", flat=True))
    lines = []
    for take in reversed(takes):
        differed = ", ".join(
            f"{by_name()[name].label} {text} instead of {take.planned.get(name, '?')}"
            for name, text in take.differed.items() if name in by_name()
        )  # fmt: skip
        more = [take.clip, take.card, n.format_duration(take.length_s) if take.length_s else "",
                take.note]  # fmt: skip
        if count := shown[take.uid]:
            more.append("1 picture" if count == 1 else f"{count} pictures")
        lines.append(TakeLine(
            take.pk, str(take), f"{take.at.astimezone(zone):%a %H:%M}",
            take.get_verdict_display(), VERDICT_MARKS[take.verdict], differed, ", ".join(take.why),
            " · ".join(one for one in more if one), take.by_name, fault_words(take),
        ))  # fmt: skip
    return lines


@dataclass(frozen=True, slots=True)
class SceneLeft:
    """How a scene is covered: each size with how many setups are planned, shot, and good."""

    name: str
    sizes: tuple[tuple[str, int, int, int], ...]
    misses: str


@dataclass(frozen=True, slots=True)
class Undone:
    """A setup without a good take: its hour, what there is of it, and when its light is there."""

    key: int
    name: str
    hour: str
    said: str
    window: str
    gone: bool


@dataclass(frozen=True, slots=True)
class Remains:
    """What is left of a day: setups, scenes, cards, batteries."""

    undone: tuple[Undone, ...]
    scenes: tuple[SceneLeft, ...]
    supplies: tuple[str, ...]
    done: int
    total: int


def remains_of(planned: PlannedDay, takes: list[Take], now: datetime) -> Remains:
    """What is not done yet, scene by scene, and what cards and batteries have left.

    On the day itself windows that are over at ``now`` count no more.
    """
    counts = counted(takes)
    undone, done = [], 0
    for block in order_of(planned):
        _, good = counts.get(block.key, (0, 0))
        if good:
            done += 1
            continue
        hour = planned.plan.clock(block.rolls) if block.rolls else "no hour"
        count = counts.get(block.key, (0, 0))[0]
        many = "1 take, not good" if count == 1 else f"{count} takes, none good"
        said = many if count else "not shot"
        undone.append(Undone(block.key, block.name, hour, said, *_next_window(planned, block, now)))
    return Remains(
        tuple(undone), tuple(_scenes(planned.shoot, counts)),
        tuple(supplies_left(planned, takes)), done, len(planned.plan.blocks),
    )  # fmt: skip


def _next_window(planned: PlannedDay, block: Block, now: datetime) -> tuple[str, bool]:
    """When the light of a setup is there next on its day, and whether that is over already."""
    if block.schedule.wants is Wanted.ANY:
        return "", False
    last = planned.plan.hours.ends
    here = next((one for one in block.windows if one.ends > now and one.starts < last), None)
    if here is None:
        return f"no {block.wish} any more on this day", True
    clock = planned.plan.clock
    if here.starts <= now:
        return f"{block.wish} now, until {clock(here.ends)}", False
    return f"{block.wish} {clock(here.starts)} to {clock(here.ends)}", False


def _scenes(shoot: Shoot, counts: dict[int, tuple[int, int]]) -> list[SceneLeft]:
    found = []
    scenes: list[Scene] = list(shoot.scenes.prefetch_related("setups"))
    for scene in scenes:
        rows = list(scene.setups.all())
        covered: Coverage = coverage([ShotSize(row.shot_size) for row in rows])
        sizes = []
        for size, count in covered.counts:
            own = [row.pk for row in rows if row.shot_size == size.value]
            shot = sum(counts.get(key, (0, 0))[0] > 0 for key in own)
            good = sum(counts.get(key, (0, 0))[1] > 0 for key in own)
            sizes.append((size.label, count, shot, good))
        found.append(SceneLeft(str(scene), tuple(sizes), covered.misses))
    return found


def _logged(planned: PlannedDay, takes: list[Take]) -> list[LoggedTake]:
    """Takes of the day's setups as the core knows them."""
    blocks = {block.key: block for block in planned.plan.blocks}
    found = []
    for take in takes:
        spec, block = planned.specs.get(take.setup_key), blocks.get(take.setup_key)
        if spec is not None and block is not None and block.supplies is not None:
            found.append(LoggedTake(spec, block.supplies, take.card, take.length_s))
    return found


def supplies_left(planned: PlannedDay, takes: list[Take]) -> list[str]:
    """What cards and batteries have left."""
    sizes = {b.supplies.card: b.supplies.card_gb for b in planned.plan.blocks if b.supplies}
    logged, said = _logged(planned, takes), []
    for card, gb in gone_on_cards(logged).items():
        if card in sizes:
            said.append(f"{card}: {_left(sizes[card], gb)} GB left of {sizes[card]:g}")
        else:
            said.append(f"{card}: {n.format_number(gb)} GB logged on it")
    for name, share in charge_left(logged).items():
        led = loose(f"{round(100 * share)} %", "left.battery", value=100 * share)
        said.append(f"{name}: about {led} left, if not charged since")
    return said


def _left(card_gb: float, gone_gb: float) -> str:
    """GB that a card has left, with its working."""
    text = n.format_number(left_on_card_gb(card_gb, gone_gb), 0)
    return loose(text, "left.card", card_gb=card_gb, gone_gb=gone_gb)


def left_for(planned: PlannedDay, key: int, takes: list[Take]) -> list[str]:
    """What the card and the battery of one setup have left, in minutes at its rate."""
    spec, supplies = planned.spec(key), planned.block(key).supplies
    if supplies is None or spec.records_stills:
        return []
    gone = gone_on_cards(_logged(planned, takes)).get(supplies.card, 0.0)
    left = left_on_card_gb(supplies.card_gb, gone)
    said = [f"{supplies.card}: {_left(supplies.card_gb, gone)} GB left, "
            f"{minutes_text(minutes_on_card(spec, left))} at this rate"]  # fmt: skip
    full = minutes_on_battery(spec, supplies)
    if full is not None:
        said.append(f"{supplies.cells[0].name}: full it records for {minutes_text(full)}")
    return said

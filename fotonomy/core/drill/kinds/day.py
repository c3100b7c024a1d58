"""Plan a day in five blocks: only one order keeps every shot in its light."""

from dataclasses import dataclass
from itertools import permutations
from random import Random

from fotonomy.core.drill.answers import Option, Order
from fotonomy.core.drill.exercise import Asked, Exercise
from fotonomy.core.spec.setup import Setup

_PLACES = ("quay", "barn", "hill")


@dataclass(frozen=True, slots=True)
class Block:
    """A shot of a day: its window and how long it takes, in minutes of the clock, and where."""

    key: str
    words: str
    opens: int
    closes: int
    takes: int
    place: str


_SHOTS = (
    ("low sun behind the boats", (7 * 60 + 20, 8 * 60 + 30)),
    ("mist over the water", (7 * 60, 9 * 60)),
    ("the market in open shade", (9 * 60, 12 * 60)),
    ("the smith at work, any light", (8 * 60, 18 * 60)),
    ("the launch at high tide", (13 * 60, 14 * 60)),
    ("hard light on the ropes", (11 * 60, 13 * 60 + 30)),
    ("gulls against a bright sky", (10 * 60, 16 * 60)),
    ("faces in the last sun", (15 * 60 + 30, 17 * 60)),
    ("the quay in the blue hour", (17 * 60, 17 * 60 + 50)),
    ("lamps lit, sky still blue", (17 * 60 + 10, 18 * 60)),
)


def clock(minutes: int) -> str:
    """Minutes since midnight as a clock shows them."""
    return f"{minutes // 60:02d}:{minutes % 60:02d}"


def works(order: tuple[Block, ...], way_min: int) -> bool:
    """True where every shot of an order fits into its window, with the ways between places."""
    now, here = 0, ""
    for block in order:
        if here and block.place != here:
            now += way_min
        starts = max(now, block.opens)
        if starts + block.takes > block.closes:
            return False
        now, here = starts + block.takes, block.place
    return True


def plan_a_day(asked: Asked, random: Random, own: Setup | None = None) -> Exercise:
    """Five shots with their windows and minutes: the one order in which all of them fit."""
    level = asked.level
    way = 20 if level < 3 else 30
    for _ in range(4000):
        chosen = random.sample(_SHOTS, 5)
        blocks = tuple(
            Block(
                str(k),
                words,
                opens,
                closes,
                min(
                    random.choice((30, 40, 50, 60) if level == 1 else (40, 60, 80, 100)),
                    closes - opens,
                ),
                random.choice(_PLACES[: level + 1]),
            )
            for k, (words, (opens, closes)) in enumerate(chosen)
        )
        good = [order for order in permutations(blocks) if works(order, way)]
        if len(good) != 1 or good[0] == blocks:
            continue
        options = tuple(
            Option(
                one.key,
                f"{one.words}: {clock(one.opens)} to {clock(one.closes)}, takes "
                f"{one.takes} min, at the {one.place}",
            )
            for one in blocks
        )
        return Exercise(
            asked=asked,
            ask="In which order do all of them fit?",
            facts=(
                f"Between two places it is {way} min.",
                "Each shot has to begin and end inside its light.",
            ),
            answer=Order(options, tuple(one.key for one in good[0])),
            why=_why(good[0], way),
            tiles=(),
            given={"way_min": float(way)},
        )
    raise LookupError("no such day")


def _why(order: tuple[Block, ...], way_min: int) -> str:
    now, here, said = 0, "", []
    for block in order:
        if here and block.place != here:
            now += way_min
        starts = max(now, block.opens)
        said.append(f"{clock(starts)} {block.words}")
        now, here = starts + block.takes, block.place
    return "; ".join(said) + "."

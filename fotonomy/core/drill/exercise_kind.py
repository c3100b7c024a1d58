"""What is practised: one record a kind of exercise."""

from collections.abc import Callable
from dataclasses import dataclass
from enum import Enum, StrEnum
from random import Random

from fotonomy.core.drill.exercise import Asked, Exercise
from fotonomy.core.drill.kinds import balance, day, runs, tones, visual
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile

Maker = Callable[[Asked, Random, Setup | None], Exercise]


class Setups(Enum):
    """Which of a person's own setups a kind of exercise can be made of."""

    NONE = "none"
    VIDEO = "video"
    ANY = "video and single pictures"
    RUNS = "interval runs"
    SKY = "interval runs of the sky"


@dataclass(frozen=True, slots=True)
class ExerciseRecord:
    """All that is said of a kind of exercise once.

    ``about`` is what is learnt, in a sentence, ``tile`` the lane of the bench it belongs to,
    ``made_of`` the setups of a person it can be made of.
    """

    label: str
    about: str
    tile: Tile
    maker: Maker
    made_of: Setups


class ExerciseKind(StrEnum):
    """What is practised, in the order in which people meet it: that in which they decide."""

    record: ExerciseRecord

    def __new__(cls, key: str, record: ExerciseRecord) -> "ExerciseKind":
        """A kind by its key, which stands in addresses and rows."""
        made = str.__new__(cls, key)
        made._value_ = key
        made.record = record
        return made

    HOW_MANY_STOPS = "how-many-stops", ExerciseRecord(
        "How many stops", "Count from one setting to another.",
        Tile.LIGHT, balance.how_many_stops, Setups.ANY,
    )  # fmt: skip
    WHICH_ONE = "which-one", ExerciseRecord(
        "Which one", "Tell two pictures or drawings apart.",
        Tile.PICTURE, visual.which_one, Setups.VIDEO,
    )  # fmt: skip
    WILL_IT = "will-it", ExerciseRecord(
        "Will it strobe, lean, flicker", "Judge movement and lamps before the take.",
        Tile.MOTION, visual.will_it, Setups.VIDEO,
    )  # fmt: skip
    ND_FOR_THIS = "nd-for-this", ExerciseRecord(
        "ND for this", "Work out the ND a scene needs.",
        Tile.LIGHT, balance.nd_for_this, Setups.VIDEO,
    )  # fmt: skip
    SET_IT = "set-it", ExerciseRecord(
        "Set it", "Balance a scene by turning what may move.",
        Tile.LIGHT, balance.set_it, Setups.ANY,
    )  # fmt: skip
    READ_THE_LIGHT = "read-the-light", ExerciseRecord(
        "Read the light", "Say how bright a scene is before you meter.",
        Tile.LIGHT, tones.read_the_light, Setups.NONE,
    )  # fmt: skip
    PLACE_THE_FACE = "place-the-face", ExerciseRecord(
        "Place the face", "Put a tone at its mark, and set the zebras.",
        Tile.LEVEL, tones.place_the_face, Setups.ANY,
    )  # fmt: skip
    HOLD_OR_FLOAT = "hold-or-float", ExerciseRecord(
        "Hold or float", "Choose what the camera may move.",
        Tile.LIGHT, visual.hold_or_float, Setups.ANY,
    )  # fmt: skip
    WHAT_PAYS = "what-pays", ExerciseRecord(
        "What pays", "Find what gives the light that a choice takes.",
        Tile.LIGHT, balance.what_pays, Setups.VIDEO,
    )  # fmt: skip
    NAME_THE_DANGER = "name-the-danger", ExerciseRecord(
        "Name the danger", "See what a plan will ruin.",
        Tile.PICTURE, visual.name_the_danger, Setups.VIDEO,
    )  # fmt: skip
    INTERVAL_FOR_THAT = "interval-for-that", ExerciseRecord(
        "Interval for that", "Fit event, interval and clip together.",
        Tile.RUN, runs.interval_for_that, Setups.RUNS,
    )  # fmt: skip
    METHOD = "method", ExerciseRecord(
        "Method for the light", "Choose how to expose against the light.",
        Tile.LEVEL, tones.method, Setups.ANY,
    )  # fmt: skip
    STARS = "stars", ExerciseRecord(
        "Points or trails", "Keep stars points, or let them draw.",
        Tile.RUN, runs.stars, Setups.SKY,
    )  # fmt: skip
    PLAN_A_DAY = "plan-a-day", ExerciseRecord(
        "Plan a day", "Put five shots where their light is.",
        Tile.RAMP, day.plan_a_day, Setups.NONE,
    )  # fmt: skip
    SPOT_THE_PROGRAM = "spot-the-program", ExerciseRecord(
        "Spot the program", "Find the wrong entry before the run fails.",
        Tile.CYCLE, runs.spot_the_program, Setups.RUNS,
    )  # fmt: skip

    @classmethod
    def of(cls, key: str) -> "ExerciseKind":
        """The kind of this key. ValueError where there is none."""
        return cls(key)  # type: ignore[call-arg]

    @property
    def label(self) -> str:
        """In words."""
        return self.record.label

    @property
    def about(self) -> str:
        """What is learnt, in a sentence."""
        return self.record.about

    @property
    def tile(self) -> Tile:
        """The lane of the bench it belongs to."""
        return self.record.tile

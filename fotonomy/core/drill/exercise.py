"""What an exercise is made of."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import TYPE_CHECKING, NamedTuple

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.drill.answers import Amount, Answer, OneOf, Placed, Settings, guessed
from fotonomy.core.drill.grading import Grade
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.neutral_density import stops_to_density
from fotonomy.core.spec.changes import Change, applied
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile
from fotonomy.core.tone.placement import stops_at

if TYPE_CHECKING:
    # A kind names its maker, which makes exercises.
    from fotonomy.core.drill.exercise_kind import ExerciseKind

LEVELS = (1, 2, 3)
# Grain is judged in the shadows, lifted as an edit lifts them.
LIFTED_STOPS = 2.0


class Cut(StrEnum):
    """What a small cut of a frame shows beside a question.

    What moves before what is behind it, or shadows that were lifted.
    """

    MOVING = "moving"
    SHADOWS = "shadows"

    @property
    def words(self) -> str:
        """What one looks at."""
        if self is Cut.MOVING:
            return "a small cut of each frame"
        return f"shadows of each frame, lifted by {LIFTED_STOPS:g} stops"


class Asked(NamedTuple):
    """What is asked for: the same three always make the same exercise."""

    kind: "ExerciseKind"
    level: int
    seed: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Exercise:
    """One exercise. ``ask`` is the question, ``facts`` what one is told, a line each.

    ``setups`` are drawn beside the question, at most two, by the drawings of ``tiles``.
    ``cut`` says what of their frames is shown instead of drawings, if anything.
    ``scene_setup`` is what a guess is tried on, ``right`` the setup of the right answer. ``why``
    says why, ``workings`` name the numbers of ``right`` that show it.
    """

    asked: Asked
    ask: str
    facts: tuple[str, ...]
    answer: Answer
    why: str
    workings: tuple[str, ...] = ()
    scene_setup: Setup | None = None
    right: Setup | None = None
    setups: tuple[Setup, ...] = ()
    tiles: tuple[Tile, ...] = (Tile.LIGHT,)
    given: Mapping[str, float] = field(default_factory=dict)
    cut: Cut | None = None

    @property
    def kind(self) -> "ExerciseKind":
        """What is practised."""
        return self.asked.kind

    @property
    def level(self) -> int:
        """How hard it is, from 1 to 3."""
        return self.asked.level

    @property
    def seed(self) -> int:
        """What it was made of by chance."""
        return self.asked.seed

    def grade(self, guess: Mapping[str, str]) -> Grade:
        """Grade a guess. RuleError naming the field for one that says nothing."""
        return self.answer.grade(guess, self)

    def tried(self, guess: Mapping[str, str]) -> Setup | None:
        """The setup as the guess would have it, None where a guess sets nothing."""
        changes: tuple[Change, ...] = ()
        match self.answer:
            case Placed(tone=tone):
                return self._with_tone_at(tone.read(guessed(guess)))
            case Amount(scale="level"):
                return self._with_tone_at(self.answer.read(guessed(guess)))
            case Settings():
                changes = self.answer.changes(guess)
            case Amount(glass=True):
                stops = self.answer.read(guessed(guess))
                changes = (Change("nd_density", round(stops_to_density(stops), 2)),)
            case OneOf(options=options):
                changes = next(
                    (one.changes for one in options if one.key == guess.get("answer")), ()
                )
        if self.scene_setup is None or not changes:
            return None
        try:
            return applied(self.scene_setup, changes)
        except RuleError:
            return None

    def _with_tone_at(self, percent: float) -> Setup | None:
        """The right answer's setup with its tone where a guess has it."""
        if self.right is None or not self.right.readings:
            return None
        tone, *others = self.right.readings
        try:
            return replace(
                self.right, readings=(replace(tone, stops=self.stops_at(percent)), *others)
            )
        except RuleError:
            return None

    def stops_at(self, percent: float) -> float:
        """Stops from grey that record at a percent on the profile of the right answer."""
        assert self.right is not None
        return stops_at(self.right.recorded_profile, percent)

    @property
    def analysis(self) -> Analysis | None:
        """What the right answer comes to."""
        return None if self.right is None else analyse(self.right)

    @property
    def is_sound(self) -> bool:
        """True where there is exactly one right answer or range, and it is not there already."""
        return self.answer.is_sound(self)

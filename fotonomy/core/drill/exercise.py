"""What an exercise is made of."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.drill.answers import Amount, Answer, OneOf, Placed, Settings, guessed
from fotonomy.core.drill.grading import Grade
from fotonomy.core.drill.kind import Cut, Kind
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.neutral_density import stops_to_density
from fotonomy.core.spec.changes import Change, applied
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile
from fotonomy.core.tone.placement import stops_at


@dataclass(frozen=True, slots=True, kw_only=True)
class Exercise:
    """One exercise. ``ask`` is the question, ``facts`` what one is told, a line each.

    ``setups`` are drawn beside the question, at most two, by the drawings of ``tiles``.
    ``cut`` says what of their frames is shown instead of drawings, if anything.
    ``scene_setup`` is what a guess is tried on, ``right`` the setup of the right answer. ``why``
    says why, ``workings`` name the numbers of ``right`` that show it.
    """

    kind: Kind
    level: int
    seed: int
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

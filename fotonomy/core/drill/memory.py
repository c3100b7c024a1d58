"""When a skill is practised again: spaced repetition by FSRS, and which level comes next.

The scheduler is the fsrs library's own with its own parameters. A right guess is "good", a close
one "hard", a wrong one "again".
"""

import json
from dataclasses import dataclass
from datetime import datetime

from fsrs import Card, Rating, Scheduler

from fotonomy.core.drill.exercise import LEVELS
from fotonomy.core.drill.grading import Mark
from fotonomy.core.errors import RuleError

RATINGS = {Mark.RIGHT: Rating.Good, Mark.CLOSE: Rating.Hard, Mark.OFF: Rating.Again}
# So many right in a row lead to the next level, so many wrong back to the one before. Common
# practice, no source.
UP_AFTER, DOWN_AFTER = 3, 2
# No fuzz: the same answers come due at the same time on every device.
_SCHEDULER = Scheduler(enable_fuzzing=False)


@dataclass(frozen=True, slots=True)
class Memory:
    """What is known of a skill: the library's card as JSON, when it is due, its level and its run.

    ``run`` counts right answers in a row; below zero wrong ones.
    """

    card: str = ""
    due: datetime | None = None
    level: int = 1
    run: int = 0

    @classmethod
    def of_card(cls, card: str, level: int, run: int) -> "Memory":
        """What a card from elsewhere says. RuleError for one the library does not know."""
        try:
            found = Card.from_dict(json.loads(card))
            # Whatever it holds has to work: asked when it is due, and answered once.
            _SCHEDULER.review_card(found, Rating.Good, found.due)
            _SCHEDULER.get_card_retrievability(found, found.due)
            text = json.dumps(found.to_dict())
        except (ValueError, KeyError, TypeError, AttributeError, OverflowError,
                RecursionError, ZeroDivisionError) as error:  # fmt: skip
            raise RuleError("card", "is no card of the scheduler", str(error)) from error
        return cls(text, found.due, level, run)

    @property
    def reviewed(self) -> datetime | None:
        """When it was practised last."""
        return Card.from_dict(json.loads(self.card)).last_review if self.card else None

    def after(self, mark: Mark, now: datetime) -> "Memory":
        """What is known after an answer. A clock that was set back counts as standing still."""
        card = Card() if not self.card else Card.from_dict(json.loads(self.card))
        if card.last_review is not None and now < card.last_review:
            now = card.last_review
        # A first answer is due from the moment it is given.
        card, _ = _SCHEDULER.review_card(card, RATINGS[mark], now)
        run, level = _next(self.run, self.level, mark)
        return Memory(json.dumps(card.to_dict()), card.due, level, run)

    def recalled(self, now: datetime) -> float:
        """Chance, 0 to 1, that it is known now; 0 for what was never practised."""
        if not self.card:
            return 0.0
        card = Card.from_dict(json.loads(self.card))
        if card.last_review is not None and now < card.last_review:
            now = card.last_review
        return float(_SCHEDULER.get_card_retrievability(card, now))


def _next(run: int, level: int, mark: Mark) -> tuple[int, int]:
    if mark is Mark.RIGHT:
        run = max(run, 0) + 1
    elif mark is Mark.OFF:
        run = min(run, 0) - 1
    else:
        run = 0
    if run >= UP_AFTER and level < LEVELS[-1]:
        return 0, level + 1
    if run <= -DOWN_AFTER and level > LEVELS[0]:
        return 0, level - 1
    return run, level

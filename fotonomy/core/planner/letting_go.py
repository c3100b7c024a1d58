"""What each held setting costs: what the best plan would gain if that one alone might move."""

from dataclasses import dataclass

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.planner.plans import Solution, compare
from fotonomy.core.planner.relaxation import changes_to, freeing, said_out, set_free
from fotonomy.core.planner.search import Search
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.setup import SETTINGS, Setup

# What is cheaper by less than this, in score, is not worth asking for.
WORTH_SCORE = 0.1


@dataclass(frozen=True, slots=True)
class LetGo:
    """One held setting: what it stands at, and what it would be if it might move.

    ``there`` is that setting then, as said out loud; empty where letting it move gains nothing,
    and then so are ``gains``, ``losses`` and ``changes``.
    """

    setting: str
    here: str
    there: str
    gains: tuple[str, ...]
    losses: tuple[str, ...]
    changes: tuple[Change, ...]


def let_go(setup: Setup, best: Solution) -> tuple[LetGo, ...]:
    """Search once for each setting of the camera that is held; framing is not asked about."""
    return tuple(_one(setup, best, name) for name in SETTINGS if name in setup.held)


def _one(setup: Setup, best: Solution, name: str) -> LetGo:
    here = said_out(setup, name)
    found = Search(set_free(setup, name)).best()
    moved = found is not None and said_out(found.setup, name) != here
    if found is None or not moved or best.candidate.score - found.score < WORTH_SCORE:
        return LetGo(name, here, "", (), (), ())
    gains, losses = compare(best.analysis, analyse(found.setup))
    changes = freeing(setup, name) + changes_to(setup, found.setup)
    return LetGo(name, here, said_out(found.setup, name), gains, losses, changes)

"""What a finding is made of."""

from dataclasses import dataclass
from enum import StrEnum

from fotonomy.core.spec.changes import Change


class Severity(StrEnum):
    """A caution is worth a look; a stop ruins the take."""

    CAUTION = "caution"
    STOP = "stop"


@dataclass(frozen=True, slots=True)
class Fix:
    """Changes applied together; ``price_stops`` is what they do to the exposure.

    ``label`` says them in a few words. ``touches_held`` is true where they move what is held,
    ``costs`` what they leave or give up beside light, in words. Without changes it is something
    to be bought or hired.
    """

    label: str
    changes: tuple[Change, ...]
    price_stops: float
    touches_held: bool = False
    costs: str = ""


@dataclass(frozen=True, slots=True)
class Finding:
    """A stable ``id``, what is wrong, why, the number behind it with its unit, and fixes."""

    id: str
    severity: Severity
    what: str
    why: str
    number: float
    unit: str
    fixes: tuple[Fix, ...]

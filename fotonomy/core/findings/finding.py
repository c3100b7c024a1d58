"""What a finding is made of."""

from dataclasses import dataclass
from enum import StrEnum

from fotonomy.core.findings.fixes import Fix


class Severity(StrEnum):
    """A caution is worth a look; a stop ruins the take."""

    CAUTION = "caution"
    STOP = "stop"


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

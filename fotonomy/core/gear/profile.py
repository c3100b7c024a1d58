"""Recording profiles: a curve, where grey and clip lie on it, and its base ISO values."""

from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache
from typing import Annotated, Any

from fotonomy.core.curves.transfer_functions import GREY, Curve, decode, encode
from fotonomy.core.errors import RuleError
from fotonomy.core.ranges import NAME, Sized, Within, check_bounds

# Diffuse white, and the level under which it lies on a flat curve. Common practice, no source.
FLAT_WHITE, FLAT_UNDER = 0.9, 0.7


class LevelScale(StrEnum):
    """Which code values 0 % and 100 % stand for: 64-940 of 10 bits, or 0-1023."""

    LEGAL = "legal"
    FULL = "full"


@dataclass(frozen=True, slots=True, kw_only=True)
class Profile:
    """A recording profile: a curve, where its grey and clip lie, and its base ISO values.

    Percents are of the profile's own scale. ``grey_percent`` None means where the
    curve itself puts 18 % grey; another value shifts the nominal exposure to it.
    ``skin_percent`` is where its users put the bright side of light skin, None for 1.45 stops
    over grey. ``purpose`` says in a few words what it is for.
    """

    name: Annotated[str, NAME]
    curve: Curve
    clip_percent: Annotated[float, Within(1, 200, "%")]
    grey_percent: Annotated[float | None, Within(0.1, 200, "%")] = None
    skin_percent: Annotated[float | None, Within(0.1, 200, "%")] = None
    scale: LevelScale = LevelScale.LEGAL
    bits: Annotated[int, Within(8, 16, "bits")] = 10
    base_iso: Annotated[tuple[Annotated[int, Within(1, 10_000_000)], ...], Sized(0, 4)] = ()
    purpose: Annotated[str, Sized(0, 120)] = ""

    def __post_init__(self) -> None:
        check_bounds(self)
        if self.grey_linear <= 0:
            raise RuleError("grey_percent", "lies below this curve's black", self.grey_percent)
        if self.clip_linear <= self.grey_linear:
            raise RuleError("clip_percent", "has to lie above grey", self.clip_percent)
        skin = self.skin_percent
        if skin is not None and not self.recorded_grey_percent < skin < self.clip_percent:
            raise RuleError("skin_percent", "has to lie between grey and the clip", skin)

    @property
    def grey_linear(self) -> float:
        """Scene-linear value that records as grey (0.18 unless the profile shifts it)."""
        if self.grey_percent is None:
            return GREY
        try:
            return decode(self.curve, self.grey_percent / 100)
        except RuleError as error:
            raise RuleError("grey_percent", error.rule, self.grey_percent) from error

    @property
    def is_flat(self) -> bool:
        """True for a curve that is graded before it is looked at: white lies far under the top.

        Standard video has diffuse white at 95 % (ITU-R BT.709), HLG at 75 % (BT.2408).
        """
        return float(encode(self.curve, self.grey_linear * FLAT_WHITE / GREY)) < FLAT_UNDER

    @property
    def clip_linear(self) -> float:
        """Scene-linear value at which the recording clips."""
        try:
            return decode(self.curve, self.clip_percent / 100)
        except RuleError as error:
            raise RuleError("clip_percent", error.rule, self.clip_percent) from error

    @property
    def recorded_grey_percent(self) -> float:
        """Percent at which a grey card records at nominal exposure."""
        return 100 * float(encode(self.curve, self.grey_linear))


# However far under its base a sensor is driven, so much is left over grey: under it nothing that
# is exposed nominally records at all.
LEAST_HEADROOM_STOPS = 0.1


@lru_cache(maxsize=512)
def as_recorded(profile: Profile, bits: int, lost_stops: float) -> Profile:
    """A profile at the bits a format leaves of it, clipping so many stops earlier.

    Under its lowest base a sensor gets more light than the profile was made for: it is full
    before the curve ends. A tenth of a stop over grey is kept. ValueError if ``lost_stops`` < 0.
    """
    if lost_stops < 0:
        raise ValueError("headroom is lost, not won")
    changes: dict[str, Any] = {}
    if bits < profile.bits:
        changes["bits"] = bits
    if lost_stops > 0:
        full = profile.clip_linear / 2**lost_stops
        full = max(full, profile.grey_linear * 2**LEAST_HEADROOM_STOPS)
        changes["clip_percent"] = 100 * float(encode(profile.curve, full))
        if profile.skin_percent is not None and profile.skin_percent >= changes["clip_percent"]:
            changes["skin_percent"] = None
    return replace(profile, **changes) if changes else profile

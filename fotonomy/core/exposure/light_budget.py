"""The light budget: what comes in, what each choice takes or gives, and the balance."""

from dataclasses import dataclass
from enum import StrEnum

from fotonomy.core import constants as c
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.spoken import iris_text
from fotonomy.core.optics.depth_of_field import bellows_stops
from fotonomy.core.photometry.exposure_value import ev100_of
from fotonomy.core.photometry.stops import aperture_stops, iso_stops, time_stops
from fotonomy.core.spec.setup import Setup
from fotonomy.core.stills.long_exposure import under_each_stops
from fotonomy.core.tone.placement import Placing, placing

RUINED_FROM_STOPS = 1.0


class Balance(StrEnum):
    """Verdict on the balance."""

    BALANCED = "balanced"
    CLOSE = "close"
    OFF = "off"
    RUINED = "ruined"


@dataclass(frozen=True, slots=True)
class BudgetLine:
    """One entry: ``stops`` positive gives light, negative takes it; ``setting`` moves it."""

    key: str
    label: str
    detail: str
    stops: float
    setting: str | None = None


@dataclass(frozen=True, slots=True)
class Budget:
    """All entries in order, and the balance: positive is over, negative under, in stops.

    ``target_stops`` is how far over nominal the ``method`` of exposing aims. Where nobody said the
    light (``light_said`` false) it is a sum over a guess.
    """

    ev100: float
    lines: tuple[BudgetLine, ...]
    error_stops: float
    target_stops: float = 0.0
    method: Placing | None = None
    light_said: bool = True

    @property
    def exposure_stops(self) -> float:
        """Exposure over nominal: what the method aims at, and the miss."""
        return self.error_stops + self.target_stops

    @property
    def verdict(self) -> Balance:
        """How far the balance is off (bounds: constants, common practice)."""
        miss = abs(self.error_stops)
        if miss <= c.BALANCED_WITHIN_STOPS:
            return Balance.BALANCED
        if miss <= c.TOLERABLE_WITHIN_STOPS:
            return Balance.CLOSE
        return Balance.OFF if miss < RUINED_FROM_STOPS else Balance.RUINED


def target_stops(setup: Setup) -> float:
    """How far over nominal the exposure method aims, in stops."""
    method = setup.intent.exposing
    return placing(method, setup.recorded_profile, setup.readings).offset_stops


def balance_stops(lines: tuple[BudgetLine, ...]) -> float:
    """What is left when all lines are added: positive is over, negative under, in stops."""
    return sum(line.stops for line in lines)


def shutter_gives_stops(time_s: float) -> float:
    """Stops a shutter gives against one second: ``log2 t``, negative below it."""
    return -time_stops(time_s)


def iris_gives_stops(f_number: float) -> float:
    """Stops an iris gives against f/1: ``-2*log2 N``."""
    return -aperture_stops(f_number)


def nd_gives_stops(density: float) -> float:
    """Stops that grey glass gives, none or less: ``-D/log10 2`` (ISO 5-2)."""
    return -density_to_stops(density)


def close_focus_gives_stops(m: float) -> float:
    """Stops that extension at magnification ``m`` gives, none or less."""
    return -bellows_stops(m)


def method_gives_stops(target_stops: float) -> float:
    """What is left when a method has spent what it aims over nominal."""
    return -target_stops


def light_budget(setup: Setup) -> Budget:
    """``EV100 + log2(S/100) - log2(1/t) - 2*log2 N - nd - filters - transmission - bellows``.

    What a method exposes over nominal is spent too: its line takes it.
    """
    ev100 = ev100_of(setup.light)
    lines = [
        BudgetLine("light", "Scene light", f"{n.format_number(ev100, 1)} EV", ev100),
        BudgetLine(
            "shutter", "Shutter", n.format_time(setup.time_s),
            shutter_gives_stops(setup.time_s), "shutter",
        ),
        BudgetLine(
            "iris", "Iris", iris_text(setup), iris_gives_stops(setup.iris), "iris"
        ),
        BudgetLine("iso", "ISO", str(setup.iso), iso_stops(setup.iso), "iso"),
        BudgetLine(
            "nd", "ND", n.format_density(setup.nd_density),
            nd_gives_stops(setup.nd_density), "nd_density",
        ),
    ]  # fmt: skip
    lines += [BudgetLine("filter", piece.name, "", -piece.stops) for piece in setup.filters]
    if setup.lens.transmission_stops:
        lines.append(BudgetLine("lens", "Lens glass", "", -setup.lens.transmission_stops))
    bellows = close_focus_gives_stops(setup.imaging.magnification)
    if bellows:
        lines.append(BudgetLine("bellows", "Close focus", "", bellows))
    if setup.single_frame and (added := under_each_stops(setup.run.combining, setup.run.frames)):
        lines.append(BudgetLine("combined", f"{setup.run.frames} added", "", added))
    method = placing(setup.intent.exposing, setup.recorded_profile, setup.readings)
    target = method.offset_stops
    if abs(target) > 1e-9:
        lines.append(
            BudgetLine("method", setup.intent.exposing.brief, "", method_gives_stops(target))
        )
    said = setup.light_said
    return Budget(ev100, tuple(lines), balance_stops(tuple(lines)), target, method, said)

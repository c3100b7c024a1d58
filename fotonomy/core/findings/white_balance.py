"""Findings about white balance: off the main light, and mixed light."""

from collections.abc import Iterator

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.motion.camera_movement import Camera
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.writing import format_capital
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.intent import WhiteMethod
from fotonomy.core.tiles import Tile
from fotonomy.core.tone.white_balance import kelvin, mired

OFF = Family("white.off", Harm.PRICE, Tile.WHITE)
MIXED = Family("white.mixed", Harm.PRICE, Tile.WHITE)
AUTO_DRIFTS = Family("white.auto_drifts", Harm.PICTURE_LOST, Tile.WHITE)

# White balance, in mired. Common practice, no source.
MIXED_SEEN_MIRED = 40.0
OFF_SEEN_MIRED = 25.0


def white_off(analysis: Analysis) -> Iterator[Finding]:
    """A white balance that does not fit the main light and the taste."""
    white = analysis.white
    if abs(white.off_mired) < OFF_SEEN_MIRED:
        return
    wanted = f"{round(white.wanted_k, -1):.0f} K"
    side = "warm" if white.off_mired > 0 else "cool"
    # Told that the light is cooler than it is, a camera makes all of it warm.
    yield Finding(
        OFF, Severity.CAUTION, f"The main light will look {side}",
        f"{n.format_number(white.set_k, 0)} K is {n.format_number(abs(white.off_mired), 0)} mired "
        f"from {wanted}",
        abs(white.off_mired), "mired",
        (Fix(wanted, _set_white(analysis, white.wanted_k), 0.0),),
    )  # fmt: skip


def _set_white(analysis: Analysis, kelvin: float) -> tuple[Change, ...]:
    """What makes the main light look as wanted: where it was taken for what is set, it is named."""
    wanted = Change("white_k", round(kelvin, -1))
    if analysis.setup.source_k is not None:
        return (wanted,)
    return (Change("source_k", analysis.setup.white_k), wanted)


def mixed_light(analysis: Analysis) -> Iterator[Finding]:
    """Lights too far apart for one white balance."""
    white = analysis.white
    if white.widest_apart_mired < MIXED_SEEN_MIRED:
        return
    far = max(white.others, key=lambda source: abs(source.apart_mired))
    middle = kelvin((mired(white.main.kelvin) + mired(far.kelvin)) / 2)
    between = f"{round(middle, -1):.0f} K"
    gels = " and ".join(gel.name for gel in far.gels)
    hint = f"; a {gels} gel on it brings it over" if gels else ""
    ways = []
    if abs(mired(middle) - mired(white.set_k)) > 3:
        half = n.format_number(abs(far.apart_mired) / 2, 0)
        ways.append(
            Fix(f"half way, {between}", (Change("white_k", round(middle, -1)),), 0.0,
                costs=f"each {half} mired off")
        )  # fmt: skip
    main = f"{round(white.main.kelvin, -1):.0f} K"
    if abs(mired(white.main.kelvin) - mired(white.set_k)) > 3:
        ways.append(
            Fix(
                f"keep to the main light, {main}",
                (Change("white_k", round(white.main.kelvin, -1)),),
                0.0,
                costs=f"the other {n.format_number(abs(far.apart_mired), 0)} mired off",
            )
        )
    look = "warmer" if far.apart_mired > 0 else "cooler"
    yield Finding(
        MIXED, Severity.CAUTION, "Mixed light",
        f"{format_capital(far.name)} at {n.format_number(far.kelvin, 0)} K is "
        f"{n.format_number(abs(far.apart_mired), 0)} mired {look} than the main light{hint}",
        abs(far.apart_mired), "mired", tuple(ways),
    )  # fmt: skip


def left_on_auto(analysis: Analysis) -> Iterator[Finding]:
    """White balance that the camera goes on choosing while the light or the framing moves."""
    setup, intent = analysis.setup, analysis.setup.intent
    if intent.white_school is not WhiteMethod.AUTO:
        return
    run = setup.kind.traits.has_interval
    others = [abs(source.apart_mired) for source in analysis.white.others]
    moves = setup.movement.camera is not Camera.LOCKED
    apart = max(others, default=0.0)
    if not run and not moves and setup.light_change_stops < 1 and apart < MIXED_SEEN_MIRED:
        return
    why = "a run of hours" if run else "a camera that moves" if moves else "light that moves"
    yield Finding(
        AUTO_DRIFTS, Severity.STOP if run else Severity.CAUTION,
        "The white balance will drift",
        f"Left on auto over {why}: a drift of {n.format_number(OFF_SEEN_MIRED, 0)} mired shows; "
        f"lock it at {n.format_number(setup.white_k, 0)} K",
        apart or OFF_SEEN_MIRED, "mired",
        (Fix("auto once, then lock", (Change("white_school", WhiteMethod.AUTO_LOCKED),), 0.0),),
    )  # fmt: skip


CHECKS = (white_off, mixed_light, left_on_auto)

"""Speeds, lengths and f-numbers in words, in the unit the person typed them in."""

from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.exposure_value import ev100_of
from fotonomy.core.spec.setup import Setup
from fotonomy.core.units import SPEED_UNITS, SPOKEN_UNITS


def speed_text(metres_a_second: float) -> str:
    """A speed as text that parses back, in metres a second."""
    return f"{n.format_number(metres_a_second, 3)} m/s"


def length_text(metres: float | None) -> str:
    """A length as text that parses back, in metres or millimetres; "none" for None."""
    if metres is None:
        return "none"
    if metres < 0.1:
        return f"{n.format_number(1000 * metres, 3)} mm"
    return f"{n.format_number(metres, 3)} m"


def spoken(setup: Setup, name: str, value: float) -> str:
    """A value of one of ``SPOKEN_UNITS`` as text that parses back: 25 km/h, 6 ft, T2."""
    unit = setup.intent.unit_of(name)
    if unit == "T":
        return f"T{n.format_number(setup.lens.t_number(value), 2)}"
    if unit:
        return f"{n.format_number(value / SPOKEN_UNITS[name][unit], 3)} {unit}"
    if name == "iris":
        return n.format_iris(value)
    return (speed_text if SPOKEN_UNITS[name] is SPEED_UNITS else length_text)(value)


def iris_text(setup: Setup) -> str:
    """The iris as the person says it: f/4, or T4 where a T-number was typed."""
    return spoken(setup, "iris", setup.iris)


def said_light(setup: Setup) -> str:
    """What light a setup is planned for; said as open where nobody said it."""
    ev = f"EV {n.format_number(ev100_of(setup.light))}"
    return f"planned for {ev}" if setup.light_said else f"light not said yet, planned with {ev}"


def said_distance(setup: Setup, metres: float) -> str:
    """A distance from the camera within a sentence, in the unit the subject's was typed in."""
    return said_length(setup, "subject_distance_m", metres)


def said_reach(setup: Setup, metres: float) -> str:
    """A distance that was worked out, from or to where it is sharp, as fine as it is known."""
    return said_distance(setup, n.to_a_fiftieth(metres))


def said_depth(setup: Setup, metres: float) -> str:
    """A depth within a sentence, in the unit the subject's own was typed in."""
    return said_length(setup, "subject_depth_m", metres)


def said_length(setup: Setup, name: str, metres: float) -> str:
    """A length within a sentence: rounded as people say it, in the unit of that setting."""
    unit = setup.intent.unit_of(name)
    if not unit or metres == float("inf"):
        return n.format_length(metres)
    size = metres / SPOKEN_UNITS[name][unit]
    return f"{n.format_number(size, 0 if size >= 100 else 1 if size >= 10 else 2)} {unit}"


def said_speed(setup: Setup, name: str, metres_a_second: float) -> str:
    """A speed within a sentence, to two decimals, in the unit of that setting."""
    unit = setup.intent.unit_of(name)
    return f"{n.format_number(metres_a_second / SPEED_UNITS[unit], 2)} {unit or 'm/s'}"

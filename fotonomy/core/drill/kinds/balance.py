"""Exercises about the balance of light: set it, how many stops, what pays, ND for this."""

from dataclasses import replace
from random import Random

from fotonomy.core.drill.answers import Amount, OneOf, Option, Settings, Turn
from fotonomy.core.drill.exercise import Asked, Exercise
from fotonomy.core.drill.scenes import SCENES, balanced, error_of, offers_of, pick, setup_of
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.exposure_value import ev100_of
from fotonomy.core.photometry.stops import MARKED_F_NUMBERS, aperture_stops, iso_stops
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile

# A third of a stop either way is in balance.
BALANCED_STOPS = 0.2
_LABELS = {"iris": "Iris", "iso": "ISO", "nd_density": "ND", "shutter": "Shutter"}
_TURNED = (("iris",), ("iris", "nd_density"), ("iris", "iso", "nd_density"))
MOST_TRIES = 60


def facts_of(setup: Setup, leave_out: tuple[str, ...] = ()) -> tuple[str, ...]:
    """What is set, a line each, without what is asked for."""
    said = {
        "light": f"Scene light EV {n.format_number(setup_ev(setup))}",
        "frame_rate": _rate_words(setup),
        "shutter": f"shutter {n.format_shutter(setup.shutter)}",
        "iris": n.format_iris(setup.iris),
        "iso": f"ISO {setup.iso}",
        "nd_density": "no ND"
        if not setup.nd_density
        else f"ND {n.format_density(setup.nd_density)}",
    }
    return tuple(text for name, text in said.items() if text and name not in leave_out)


def _rate_words(setup: Setup) -> str:
    """How often it takes a frame; a single one has no rate."""
    if setup.single_frame:
        return ""
    if setup.frame_rate < 1:
        return f"a frame every {n.format_duration(1 / setup.frame_rate)}"
    each = "frames a second" if setup.records_stills else "fps"
    return f"{n.format_frame_rate(setup.frame_rate)} {each}"


def setup_ev(setup: Setup) -> float:
    """The scene's light in EV at ISO 100."""
    return ev100_of(setup.light)


def turn_of(setup: Setup, name: str) -> Turn:
    """A setting with its marks, as texts people know."""
    options = offers_of(setup)[name].options
    if name == "iso":
        options = tuple(o for o in options if o.value <= setup.body.iso_ceiling)
    marks = tuple((o.value, text_of(name, o.value)) for o in options)
    once = {text: (value, text) for value, text in marks}
    return Turn(name, _LABELS[name], tuple(once.values()))


def text_of(name: str, value: object) -> str:
    """A setting's value as it is read out."""
    match name:
        case "iris":
            return n.format_iris(float(value))  # type: ignore[arg-type]
        case "nd_density":
            density = n.format_density(float(value))  # type: ignore[arg-type]
            return density if density == "none" else f"ND {density}"
        case "shutter":
            assert isinstance(value, Shutter)
            return n.format_shutter(value)
    return str(value)


def set_it(asked: Asked, random: Random, own: Setup | None = None) -> Exercise:
    """A balanced scene with one, two or three settings moved far off; put it right."""
    level = asked.level
    for _ in range(MOST_TRIES):
        scene = pick(random)
        start = own or setup_of(scene)
        done = balanced(start, random)
        if done is None:
            if own is not None:
                break
            continue
        names = _TURNED[level - 1]
        moved = done
        for name in names:
            turn = turn_of(done, name)
            moved = replace(moved, **{name: random.choice(turn.marks)[0]})
        off = error_of(moved)
        if not 1.3 <= abs(off) <= 8:
            continue
        turns = tuple(turn_of(done, name) for name in names)
        solution = tuple((name, text_of(name, getattr(done, name))) for name in names)
        answer = Settings(turns, solution)
        made = Exercise(
            asked=asked,
            ask="Balance it by turning "
            + " and ".join(
                filter(None, (", ".join(_LABELS[x] for x in names[:-1]), _LABELS[names[-1]]))
            )
            + "; the rest stays as it is.",
            facts=(own.title if own else scene.words, *facts_of(moved)),
            answer=answer,
            scene_setup=moved,
            right=done,
            setups=(moved,),
            why=f"The light is {n.format_stops(off)} {'over' if off > 0 else 'under'}: so much has "
            f"to be {'taken' if off > 0 else 'given'}. {answer.said} does it.",
            workings=("budget.error_stops", *(f"budget.lines.{_KEYS[x]}.stops" for x in names)),
            tiles=(Tile.LIGHT, Tile.MOTION),
        )
        if made.is_sound:
            return made
    raise LookupError("no such scene can be balanced by marks")


_KEYS = {"iris": "iris", "iso": "iso", "nd_density": "nd", "shutter": "shutter"}
_ISOS = (100, 200, 400, 800, 1600, 3200, 6400)
_THIRD_ISOS = (100, 125, 160, 250, 320, 500, 640, 1250, 2000, 4000)
_FULL_F = (1.4, 2, 2.8, 4, 5.6, 8, 11, 16, 22)


def how_many_stops(asked: Asked, random: Random, own: Setup | None = None) -> Exercise:
    """From one setting to another: whole stops of one, thirds, or two moved at once."""
    level = asked.level
    base = own or setup_of(pick(random))
    while True:
        iris = random.sample(_FULL_F if level == 1 else MARKED_F_NUMBERS[3:28], 2)
        isos = random.sample(_ISOS if level == 1 else _THIRD_ISOS, 2)
        ways = random.sample(("iris", "iso", "nd"), 1 if level < 3 else 2)
        taken = given = 0.0
        said = []
        if "iris" in ways:
            given -= aperture_stops(iris[1]) - aperture_stops(iris[0])
            said.append(f"{n.format_iris(iris[0])} to {n.format_iris(iris[1])}")
        if "iso" in ways:
            given += iso_stops(isos[1]) - iso_stops(isos[0])
            said.append(f"ISO {isos[0]} to ISO {isos[1]}")
        if "nd" in ways:
            density = random.choice((0.3, 0.6, 0.9, 1.2, 1.8))
            given -= density_to_stops(density)
            said.append(f"no ND to ND {n.format_density(density)}")
        size = abs(given - taken)
        if 1.2 <= size <= 9:
            break
    first = replace(base, iris=iris[0], iso=isos[0], nd_density=0.0)
    then = first
    if "iris" in ways:
        then = replace(then, iris=iris[1])
    if "iso" in ways:
        then = replace(then, iso=isos[1])
    if "nd" in ways:
        then = replace(then, nd_density=density)
    way = "more" if given > 0 else "less"
    return Exercise(
        asked=asked,
        ask=f"How many stops {way} light is it?",
        facts=(" and ".join(said),),
        answer=Amount(size, "stops", 0.0, 14.0),
        scene_setup=first,
        right=then,
        setups=(first, then),
        why=f"{' and '.join(said)} is {n.format_stops(size)} {way}: each stop is half or double.",
        workings=tuple(f"budget.lines.{way}.stops" for way in ways),
    )


def what_pays(asked: Asked, random: Random, own: Setup | None = None) -> Exercise:
    """A higher frame rate at the same angle takes light: one of these gives it back."""
    level = asked.level
    rate = random.choice(
        ((50, 1), (100, 2)) if level == 1 else ((60, 1.26), (100, 2), (120, 2.26))
    )[0]
    for _ in range(MOST_TRIES):
        base = own or setup_of(pick(random))
        done = balanced(replace(base, frame_rate=25, shutter=Shutter(angle_deg=180)), random)
        if done is None:
            if own is not None:
                break
            continue
        fast = replace(done, frame_rate=rate)
        short = -error_of(fast)
        ways = _payments(fast, short, level)
        right = [one for one in ways if abs(one[1] - short) <= BALANCED_STOPS]
        wrong = [one for one in ways if abs(one[1] - short) >= 0.7]
        if not right or len(wrong) < 3:
            continue
        chosen = random.choice(right)
        options = [chosen, *random.sample(wrong, 3)]
        random.shuffle(options)
        shown = tuple(
            Option(str(k), words, changes) for k, (words, _, changes) in enumerate(options)
        )
        key = str(options.index(chosen))
        return Exercise(
            asked=asked,
            ask=f"You go from 25 to {rate} fps at the same angle. What pays for it?",
            facts=(base.title, *facts_of(done)),
            answer=OneOf(shown, key),
            scene_setup=fast,
            right=_applied(fast, chosen[2]),
            setups=(done, fast),
            why=f"{rate} instead of 25 fps takes {n.format_stops(short)}; {chosen[0]} gives "
            f"{n.format_stops(chosen[1])}.",
            workings=("budget.lines.shutter.stops", "setup.time_s", "budget.error_stops"),
            tiles=(Tile.LIGHT, Tile.MOTION),
        )
    raise LookupError("no such scene")


def _applied(setup: Setup, changes: tuple[Change, ...]) -> Setup:
    return replace(setup, **{one.setting: one.value for one in changes})


def _payments(
    setup: Setup, short: float, level: int
) -> list[tuple[str, float, tuple[Change, ...]]]:
    """What might be moved for light: words, the stops it gives, and the changes."""
    found: list[tuple[str, float, tuple[Change, ...]]] = []
    offers = offers_of(setup)
    for name in ("iris", "iso", "nd_density"):
        for option in offers[name].options:
            if name == "iso" and option.value > setup.body.iso_ceiling:
                continue
            change = (Change(name, option.value),)
            gives = error_of(_applied(setup, change)) - error_of(setup)
            if 0.3 <= gives <= short + (3.0 if level == 1 else 1.5):
                present = text_of(name, getattr(setup, name))
                words = f"{_LABELS[name]} from {present} to {text_of(name, option.value)}"
                found.append((words, gives, change))
    return found


def nd_for_this(asked: Asked, random: Random, own: Setup | None = None) -> Exercise:
    """The glass that a wide iris and half the period want in so much light."""
    level = asked.level
    while True:
        scene = pick(random, [one for one in SCENES if one.light_ev >= 11])
        base = own or setup_of(scene)
        iris = random.choice((2.0, 2.8, 4.0, 5.6) if level == 1 else (1.8, 2.2, 2.8, 3.5, 4.5))
        iso = random.choice((100,) if level == 1 else (100, 200, 400, 500))
        rate = random.choice((25, 50)) if level == 3 else 25
        wanted = replace(
            base,
            iris=iris,
            iso=iso,
            frame_rate=rate,
            shutter=Shutter(angle_deg=180),
            nd_density=0.0,
        )
        over = error_of(wanted)
        if 1.5 <= over <= 11:
            break
        if own is not None:
            raise LookupError("this setup needs no filter")
    right = replace(wanted, nd_density=round(over * 0.30103, 2))
    return Exercise(
        asked=asked,
        ask="How many stops of ND does it take?",
        facts=(base.title, *facts_of(wanted, ("nd_density",))),
        answer=Amount(over, "stops", 0.0, 15.0, glass=True),
        scene_setup=wanted,
        right=right,
        setups=(wanted,),
        why=f"Without filters it is {n.format_stops(over)} over: "
        f"ND {n.format_density(right.nd_density)}"
        " takes that.",
        workings=("budget.error_stops", "budget.lines.nd.stops"),
    )

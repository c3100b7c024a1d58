"""A written outline read: scenes with their shots, and how far the setups cover a scene."""

import csv
import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from io import StringIO

from fotonomy.core.errors import RuleError
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.schedule import (
    SHARP_MIN,
    WITHIN_MOST_MIN,
    Schedule,
    ShotSize,
    Wanted,
)
from fotonomy.core.spec.stills import Ramp, Run, TimeFor

MOST_SHOTS, MOST_CHARACTERS = 200, 20_000
LONGEST_TITLE, LONGEST_STORY = 80, 400
# Words that tell a size or a kind, the more telling ones first. Common practice, no source.
_SIZES = (
    (ShotSize.CUTAWAY, r"cut-?aways?"),
    (ShotSize.DETAIL, r"details?|inserts?|extreme close(?:-?ups?)?"),
    (ShotSize.CLOSE, r"close(?:-?ups?)?"),
    (ShotSize.MEDIUM, r"medium|mid|half"),
    (ShotSize.WIDE, r"wides?|establishing|total|master"),
)
_KINDS = (
    (Kind.DUSK_FOR_NIGHT, r"dusk for night|day for night"),
    (
        Kind.INTERVAL,
        r"time-?\s?lapse|interval|stars?|star trails|milky way|flower|"
        r"clouds? (?:pass|move)\w*|day (?:to|into) night",
    ),
    (
        Kind.LONG_EXPOSURE,
        r"long exposure|light trails?|smooth (?:water|sea)|silky? water|waterfall|"
        r"sea to mist|painted light|light painting",
    ),
    (Kind.SLOW_MOTION, r"slow[- ]?mo(?:tion)?|\d{3} ?fps"),
    (Kind.BURST, r"bursts?|birds? in flight|gulls"),
    (Kind.AERIAL, r"aerial|drone|from the air"),
    (Kind.ROLLING, r"rolling|from the (?:car|van|boat|bike)|car to car|trolley"),
    (Kind.MACRO, r"macro"),
    (Kind.NIGHT, r"night|after dark"),
)
# What the words of a single picture's shot tell of its time, and of the light it wants.
_TIMES = (
    (TimeFor.MIST, r"mist|smooth sea|sea to mist"),
    (TimeFor.SILK, r"waterfall|silk\w*|smooth water"),
    (TimeFor.PAINTED, r"painted light|light painting|sparks? drawn"),
    (TimeFor.TRAILS, r"light trails?|head ?lamps|tail ?lamps"),
    (TimeFor.ANY, r"flowers?|building site|shadows? (?:move|pass)\w*"),
)
_STARS = r"stars?|star trails|milky way"
_DAY_TO_NIGHT = r"day (?:to|into) night|sunset to (?:dark|night|stars)|dusk to dark|into the night"
_LIGHTS = (
    (Wanted.MILKY_WAY, r"milky way"),
    (Wanted.MOONLIGHT, r"moonlight|moonlit"),
    (Wanted.GOLDEN, r"golden hour|sunrise|low sun|first light"),
    (Wanted.BLUE, r"blue hour"),
    (Wanted.DUSK, r"at dusk"),
    (Wanted.OVERCAST, r"overcast"),
    (Wanted.SHADE, r"in (?:the )?shade|open shade"),
    (Wanted.SUN_BEHIND, r"back-?lit|back light"),
)
_HOUR = re.compile(
    r"(?<![\d:.])(?P<hour>[01]?\d|2[0-3])[:h](?P<minute>[0-5]\d)(?![\d:])"
    r"(?:\s*(?:(?P<sharp>sharp)\b|(?:±|\+/-|give or take)\s*(?P<within>\d{1,3})\b))?",
    re.IGNORECASE,
)
ABOUT_MIN = 15.0
_SCENE = re.compile(r"(?:scene\s+)?(\d{1,4}[a-z]?)\s*[.:)]?\s+(.*)", re.IGNORECASE)
_SHOT = re.compile(r"(\d{1,4}\s?[A-Z]{1,2})\b\s*[.:)]?\s*(.*)")
_STORY = re.compile(r"\s+(?:—|–|--|\|)\s+")
_BULLET = re.compile(r"^(?:\s+|\s*[-*•]\s+)")


@dataclass(frozen=True, slots=True)
class Shot:
    """A line of an outline that becomes a setup; without a code it gets the next letter.

    ``wants`` is the light its words ask for, None where its kind decides; an hour is wished as
    such: ``at_min`` after midnight, give or take ``within_min``.
    """

    code: str
    title: str
    size: ShotSize
    kind: Kind
    time_for: TimeFor = TimeFor.USUAL
    stars: bool = False
    day_to_night: bool = False
    wants: Wanted | None = None
    at_min: float | None = None
    within_min: float = SHARP_MIN


@dataclass(frozen=True, slots=True)
class OutlineScene:
    """A scene of an outline with its shots; ``code`` is empty where it gets the next number."""

    code: str
    title: str
    story: str
    shots: tuple[Shot, ...]


def read_outline(text: str) -> tuple[OutlineScene, ...]:
    """Scenes at the left edge, shots indented or with a dash under them; or CSV with a heading.

    Raises RuleError (field ``outline``) where there is nothing to make, or too much.
    """
    if len(text) > MOST_CHARACTERS:
        raise RuleError("outline", f"takes at most {MOST_CHARACTERS} characters", len(text))
    first = next((line for line in text.splitlines() if line.strip()), "")
    is_csv = re.search(r"[,;\t]", first) and re.search(r"\b(title|shot)\b", first, re.IGNORECASE)
    scenes = _from_csv(text) if is_csv else _from_lines(text)
    count = sum(len(scene.shots) for scene in scenes)
    if not scenes:
        raise RuleError("outline", "needs at least one line", text)
    if count > MOST_SHOTS:
        raise RuleError("outline", f"makes at most {MOST_SHOTS} setups at once", count)
    return scenes


def _from_lines(text: str) -> tuple[OutlineScene, ...]:
    scenes: list[tuple[str, str, str, list[Shot]]] = []
    for line in text.expandtabs(4).splitlines():
        said = line.strip()
        if not said:
            continue
        if _BULLET.match(line):
            if not scenes:
                scenes.append(("", "", "", []))
            scenes[-1][3].append(shot_of(re.sub(r"^[-*•]\s+", "", said)))
            continue
        found = _SCENE.fullmatch(said)
        code, rest = (found[1].upper(), found[2]) if found else ("", said)
        title, *story = _STORY.split(rest, maxsplit=1)
        scenes.append((
            code, title.strip()[:LONGEST_TITLE], " ".join(story)[:LONGEST_STORY], [],
        ))  # fmt: skip
    return tuple(OutlineScene(code, title, story, tuple(s)) for code, title, story, s in scenes)


def shot_of(text: str) -> Shot:
    """A shot of its line: "4B Adze chips, close, slow motion"."""
    found = _SHOT.fullmatch(text)
    code, title = (found[1].replace(" ", ""), found[2]) if found else ("", text)
    return _shot(code, _without_size(title)[:LONGEST_TITLE], size_in(text), kind_in(text), text)


def _shot(code: str, title: str, size: ShotSize, kind: Kind, words: str) -> Shot:
    """A shot with what its words tell of its light and its time."""
    night = kind.traits.has_interval and _says(words, _DAY_TO_NIGHT)
    at_min, within_min = hour_in(words)
    light = next((wish for wish, told in _LIGHTS if _says(words, told)), None)
    return Shot(
        code, title, size, kind,
        time_for=next((aim for aim, told in _TIMES if kind.traits.stills and _says(words, told)),
                      TimeFor.USUAL),
        stars=kind.traits.has_interval and _says(words, _STARS) and not night,
        day_to_night=night,
        wants=light if at_min is None else Wanted.FIXED,
        at_min=at_min, within_min=within_min,
    )  # fmt: skip


def hour_in(words: str) -> tuple[float | None, float]:
    """The hour that words name, in minutes after midnight, and give or take how many minutes.

    "at 9:30" is meant to a quarter of an hour (common practice, no source), "9:30 sharp" to the
    minute, "9:30 ±20 min" as it says. None where no hour is named.
    """
    found = _HOUR.search(words)
    if found is None:
        return None, SHARP_MIN
    at_min = 60.0 * int(found["hour"]) + int(found["minute"])
    if found["within"]:
        return at_min, min(float(found["within"]), WITHIN_MOST_MIN)
    return at_min, SHARP_MIN if found["sharp"] else ABOUT_MIN


def told_schedule(shot: Shot, schedule: Schedule) -> Schedule:
    """When a setup can be shot, with the hour that its line names."""
    if shot.at_min is None or shot.wants is not Wanted.FIXED:
        return schedule
    return replace(schedule, wants_at_min=shot.at_min, wants_within_min=shot.within_min)


def told_run(shot: Shot, run: Run) -> Run:
    """What single pictures want, with what the words of a shot tell of them."""
    return replace(
        run, time_for=shot.time_for, declination_deg=0.0 if shot.stars else None,
        ramp=Ramp.PLANNED if shot.day_to_night else Ramp.FIXED, ramp_lift=shot.day_to_night,
    )  # fmt: skip


def _says(text: str, words: str) -> bool:
    return re.search(rf"\b(?:{words})\b", text, re.IGNORECASE) is not None


def place_in(names: Mapping[int, str], *texts: str) -> int | None:
    """The key of the place that one of these texts names, the first that names one.

    A place is named by its whole name, or by words of it that no other place has as well.
    """
    for text in texts:
        told = [
            (sum(len(word) for word in words if _says(text, re.escape(word))), key)
            for key, words in ((key, _telling(name)) for key, name in names.items())
        ]  # fmt: skip
        most = max(told, default=(0, 0))
        if most[0] and sum(size == most[0] for size, _ in told) == 1:
            return most[1]
    return None


def _telling(name: str) -> set[str]:
    """The words of a name that tell it, short ones left out."""
    return {word for word in re.findall(r"\w+", name.lower()) if len(word) > 2} - {"the", "and"}


def _without_size(title: str) -> str:
    """The title with a size that only stands after a comma taken off: it has a field of its own."""
    parts = [part.strip() for part in title.split(",")]
    kept = [
        part for at, part in enumerate(parts)
        if at == 0 or not any(re.fullmatch(words, part, re.IGNORECASE) for _, words in _SIZES)
    ]  # fmt: skip
    return ", ".join(part for part in kept if part)


def size_in(text: str) -> ShotSize:
    """The shot size that words tell, none where they tell none."""
    return next(
        (size for size, words in _SIZES if re.search(rf"\b(?:{words})\b", text, re.IGNORECASE)),
        ShotSize.NONE,
    )


def kind_in(text: str) -> Kind:
    """The kind that words tell, real time where they tell none."""
    return next(
        (kind for kind, words in _KINDS if re.search(rf"\b(?:{words})\b", text, re.IGNORECASE)),
        Kind.REAL_TIME,
    )


def _from_csv(text: str) -> tuple[OutlineScene, ...]:
    """Rows under scene, code, title or shot, size, kind, story; other columns are passed over."""
    try:
        dialect: type[csv.Dialect] | csv.Dialect = csv.Sniffer().sniff(text[:2000], ",;\t")
    except csv.Error:
        dialect = csv.excel
    scenes: dict[str, tuple[str, str, list[Shot]]] = {}
    for row in csv.DictReader(StringIO(text), dialect=dialect):
        said = {
            str(key).strip().lower(): str(value or "").strip()
            for key, value in row.items() if key is not None and not isinstance(value, list)
        }  # fmt: skip
        title = said.get("title") or said.get("shot") or ""
        if not any(said.values()):
            continue
        scene = said.get("scene", "")
        found = _SCENE.fullmatch(scene)
        code, name = (found[1].upper(), found[2]) if found else (
            (scene.upper(), "") if re.fullmatch(r"\d{1,4}[a-zA-Z]?", scene) else ("", scene)
        )  # fmt: skip
        key = code or name
        kept = scenes.setdefault(key, (name, said.get("story", "")[:LONGEST_STORY], []))
        line = " ".join(part for part in (said.get("size"), said.get("kind"), title) if part)
        kept[2].append(_shot(
            said.get("code", "")[:8], title[:LONGEST_TITLE], size_in(said.get("size") or line),
            _kind_named(said.get("kind", "")) or kind_in(line), line,
        ))  # fmt: skip
    return tuple(
        OutlineScene(key if re.fullmatch(r"\d{1,4}[A-Z]?", key) else "", name[:LONGEST_TITLE],
                     story, tuple(shots))
        for key, (name, story, shots) in scenes.items()
    )  # fmt: skip


def _kind_named(text: str) -> Kind | None:
    return next((kind for kind in Kind if kind.label == text.strip().lower()), None)


# What covers a scene, in the order people shoot it. Common practice, no source.
COVERAGE = (
    ShotSize.WIDE, ShotSize.MEDIUM, ShotSize.CLOSE, ShotSize.DETAIL, ShotSize.CUTAWAY,
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Coverage:
    """Setups of each size in a scene, and what it misses in words."""

    counts: tuple[tuple[ShotSize, int], ...]
    unsaid: int

    @property
    def misses(self) -> str:
        """What an editor will miss: the wide above all."""
        have = dict(self.counts)
        if not any(have.values()) and not self.unsaid:
            return "no setup yet"
        if not have[ShotSize.WIDE]:
            return "no wide: an editor cannot show where it happens"
        if sum(have.values()) > 1 and not have[ShotSize.CLOSE] + have[ShotSize.DETAIL]:
            return "nothing close"
        return ""


def coverage(sizes: Iterable[ShotSize]) -> Coverage:
    """How a scene is covered by setups of these sizes."""
    found = list(sizes)
    return Coverage(
        tuple((size, found.count(size)) for size in COVERAGE), found.count(ShotSize.NONE)
    )

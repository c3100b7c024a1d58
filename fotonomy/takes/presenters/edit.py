"""What an edit takes, in words; and cuts on the beat."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from fotonomy.core.errors import RuleError
from fotonomy.core.motion.timecode import timecode
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.decimals import decimal
from fotonomy.core.notation.reading import read_length
from fotonomy.core.takes.cut_list import cut_to, even_beats, read_beats, slots
from fotonomy.core.tone.night_grade import NightGrade
from fotonomy.exchange.edit.clips import EditClip
from fotonomy.shoots.models import Shoot
from fotonomy.takes.edit import length_words, night_setups, runs_of, sidecars_of, specs_of


@dataclass(frozen=True, slots=True)
class EditView:
    """Everything the page takes: what there is of each format."""

    clips: tuple[tuple[str, str, str], ...]
    usable: int
    unknown: int
    sidecars: int
    runs: tuple[tuple[int, str, int], ...]
    nights: tuple[tuple[int, str, str], ...]
    grade: NightGrade
    fps: str


def edit_view(shoot: Shoot, clips: Sequence[EditClip]) -> EditView:
    """What can go out of a shoot."""
    specs = specs_of(shoot)
    return EditView(
        tuple((one.name, one.verdict, length_words(one, shoot.project_fps)) for one in clips),
        sum(one.usable for one in clips),
        sum(not one.more["length_known"] and one.run is None for one in clips),
        sum(1 for _ in sidecars_of(shoot)),
        tuple((run.take.pk, str(run.take), len(run.rows)) for run in runs_of(shoot, specs)),
        tuple(
            (key, f"{spec.code} {spec.title}".strip(), spec.recorded_profile.name)
            for key, spec in night_setups(specs)
        ),
        NightGrade(), n.format_frame_rate(shoot.project_fps),
    )  # fmt: skip


def night_grade_of(sent: Mapping[str, str]) -> NightGrade | None:
    """A grade as it was typed; None where nothing was. Raises RuleError."""
    if "darker" not in sent and "cooler" not in sent:
        return None
    try:
        darker, cooler = (decimal(str(sent.get(name, "0"))) for name in ("darker", "cooler"))
    except ValueError as error:
        raise RuleError("grade", "stops darker and mired cooler, as numbers", None) from error
    return NightGrade(darker, cooler)


@dataclass(frozen=True, slots=True)
class Music:
    """What somebody typed of a music: beats a minute and a pattern, or the beats themselves."""

    bpm: str
    pattern: str
    length: str
    beats: str

    @property
    def asked(self) -> bool:
        """Something was typed."""
        return bool(self.bpm or self.beats)


def music_of(sent: Mapping[str, str]) -> Music:
    """The form as it was sent."""
    return Music(*(str(sent.get(name, ""))[:4000].strip()
                   for name in ("bpm", "pattern", "length", "beats")))  # fmt: skip


@dataclass(frozen=True, slots=True)
class CutLine:
    """A cut: its number, timecode, frame, frames, milliseconds off the beat, and its clip."""

    number: int
    at: str
    first: int
    frames: int
    off_ms: str
    clip: str
    short: int


@dataclass(frozen=True, slots=True)
class CutView:
    """The cuts, and what they come to in a sentence."""

    lines: tuple[CutLine, ...]
    says: str


def cuts_of(music: Music, clips: Sequence[EditClip], fps: float) -> CutView:
    """Usable clips in order on the beats of a music. Raises RuleError for what cannot be read."""
    if music.beats:
        beats = read_beats(music.beats)
    else:
        length_s = read_length(music.length)
        if length_s is None:
            raise RuleError("length", "how long the music is, such as 2:30", music.length)
        beats = even_beats(_bpm(music.bpm), _pattern(music.pattern), length_s)
    usable = [one for one in clips if one.usable]
    found = cut_to(slots(beats, fps), [one.frames for one in usable])
    lines = tuple(
        CutLine(
            cut.slot.number, timecode(cut.slot.first, fps), cut.slot.first, cut.slot.frames,
            f"{cut.slot.off_ms:+.1f}", "" if cut.clip is None else usable[cut.clip].name,
            cut.short_frames,
        )
        for cut in found
    )  # fmt: skip
    empty, short = sum(not one.clip for one in lines), sum(one.short > 0 for one in lines)
    worst = max((abs(cut.slot.off_ms) for cut in found), default=0.0)
    said = f"{len(lines)} clips; no cut is more than {n.format_number(worst, 0)} ms off its beat"
    if empty:
        said += f"; {empty} without a clip, there are only {len(usable)}"
    if short:
        said += f"; {short} longer than the clip that is there"
    return CutView(lines, said)


def _bpm(text: str) -> float:
    try:
        return decimal(text)
    except ValueError as error:
        raise RuleError("bpm", "beats a minute, such as 92", text) from error


def _pattern(text: str) -> tuple[int, ...]:
    words = text.replace(",", " ").split() or ["4"]
    if not all(word.isascii() and word.isdigit() and len(word) <= 2 for word in words):
        raise RuleError("pattern", "beats of each clip, 1 to 64, such as 4 or 4 4 8", text)
    return tuple(int(word) for word in words[:64])

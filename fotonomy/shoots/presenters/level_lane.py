"""Level, noise and white balance of the bench, as the templates draw them."""

from dataclasses import dataclass
from hashlib import blake2b

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.exposure.metering import Claim, claims, scene_means
from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.readings import READING_SETTINGS, reading_text
from fotonomy.core.parsing.table import Control, Setting
from fotonomy.core.spec.readings import Reading, Surface
from fotonomy.core.tone.diffusion import veil_share, veiled_floor_stops
from fotonomy.core.tone.example_scenes import SCENES
from fotonomy.core.tone.noise import rate_cost_stops
from fotonomy.core.tone.signal_levels import Tone
from fotonomy.shoots.editing.apply import Edit
from fotonomy.shoots.editing.readings import UsualLight
from fotonomy.shoots.presenters.bench_fields import Choice, FieldView, MenuView, label_of
from fotonomy.simulators.monitor import View

_ADDED = {Surface.OTHER: "any tone"}


@dataclass(frozen=True, slots=True)
class ReadingView:
    """One reading: its row, and its fold (None where the fold stays as it is)."""

    index: int
    name: FieldView
    stops: FieldView
    lands: str
    lost: bool
    key: bool
    details: "ReadingDetails | None"
    open: bool


@dataclass(frozen=True, slots=True)
class ReadingDetails:
    """What is behind a reading's fold."""

    index: int
    fields: tuple[FieldView, ...]
    menus: tuple[MenuView, ...]
    key: bool
    may_clip: bool


@dataclass(frozen=True, slots=True)
class MonitorView:
    """The monitor stand-in: where its pictures are, and what they show in words."""

    views: tuple[Choice, ...]
    digest: str
    words: str
    view: str


@dataclass(frozen=True, slots=True)
class LevelView:
    """The level lane's readings, what can be added, and the monitor."""

    readings: tuple[ReadingView, ...]
    adds: tuple[Choice, ...]
    scenes: tuple[Choice, ...]
    adds_error: str
    usual_light: UsualLight | None
    monitor: MonitorView
    room: str
    meters: tuple[Claim, ...]
    averaging: str
    looks_like: str
    noise_words: tuple[str, ...]
    white_words: tuple[str, ...]


def level_view(edit: Edit, analysis: Analysis, view: str) -> LevelView:
    """The lane for a setup as it stands; ``view`` is what the monitor shows."""
    found = claims(analysis.setup.readings, analysis.level, analysis.budget.exposure_stops)
    return LevelView(
        readings=tuple(_reading(edit, k, tone) for k, tone in enumerate(analysis.level.tones)),
        adds=tuple(Choice(s.value, _ADDED.get(s, s.label), False) for s in Surface),
        scenes=tuple(Choice(key, scene.label, False) for key, scene in SCENES.items()),
        adds_error=edit.errors.get("reading_add", "") or edit.errors.get("readings", ""),
        usual_light=edit.usual_light,
        monitor=monitor_view(analysis, view),
        room=_room(analysis),
        meters=found,
        averaging=_averaging(found[0]),
        looks_like=n.format_estimate(analysis.noise.looks_like_iso),
        noise_words=_noise(analysis),
        white_words=_white(analysis),
    )


def _reading(edit: Edit, k: int, tone: Tone) -> ReadingView:
    reading = edit.spec.readings[k]
    fields = {row.name: _reading_field(edit, k, row) for row in READING_SETTINGS}
    lands = (
        f"clips {n.format_number(tone.clipped_stops)}"
        if tone.clipped_stops > 0
        else f"{n.format_number(tone.percent)} %"
    )
    typed = [row for row in READING_SETTINGS if row.control is Control.TEXT]
    behind = tuple(fields[row.name] for row in typed if row.name not in ("name", "stops"))
    details = None
    if not edit.readings_stay:
        chosen = [row for row in READING_SETTINGS if row.choices is not None]
        details = ReadingDetails(
            index=k,
            fields=behind,
            menus=tuple(_reading_menu(k, row, reading) for row in chosen),
            key=reading.key,
            may_clip=reading.may_clip,
        )
    return ReadingView(
        k, fields["name"], fields["stops"], lands, tone.lost, tone.reading is not None
        and tone.reading.key, details, any(view.error for view in behind),
    )  # fmt: skip


def _reading_field(edit: Edit, k: int, row: Setting) -> FieldView:
    name, text = f"reading-{k}-{row.name}", reading_text(edit.spec.readings[k], row)
    return FieldView(
        name, row.label, edit.typed.get(name, text), edit.errors.get(name, ""), row.hint
    )


def _reading_menu(k: int, row: Setting, reading: Reading) -> MenuView:
    present = getattr(reading, row.name)
    choices = tuple(Choice(s.value, label_of(s), s is present) for s in row.choices or ())
    return MenuView(f"reading-{k}-{row.name}", row.label, choices, "")


def monitor_view(analysis: Analysis, view: str) -> MonitorView:
    """What the monitor shows; its address changes with everything the picture depends on."""
    setup = analysis.setup
    seen = (
        setup.readings, round(analysis.budget.exposure_stops, 4), setup.iso, setup.recorded_profile,
        analysis.noise, setup.white_k, setup.source_k, setup.tint_cc, setup.intent.exposing,
        analysis.level.zebra_one, analysis.level.zebra_two, round(analysis.budget.error_stops, 4),
    )  # fmt: skip
    digest = blake2b(repr(seen).encode(), digest_size=9).hexdigest()
    lost = [tone.name for tone in analysis.level.tones if tone.clipped_stops > 0]
    clips = f"{' and '.join(lost)} clip" if lost else "nothing clips"
    return MonitorView(
        views=tuple(Choice(v.value, v.label, v.value == view) for v in View),
        digest=digest,
        words=f"Monitor, {View(view).label}: "
        f"{', '.join(r.name for r in setup.readings) or 'plain grey'}; {clips}",
        view=view,
    )


def _room(analysis: Analysis) -> str:
    level = analysis.level
    if level.key.clipped_stops > 0:
        return f"{n.format_stops(level.key.clipped_stops)} beyond the clip"
    return f"{n.format_stops(level.room_left_stops)} in hand over {level.key.name}"


def _averaging(claim: Claim) -> str:
    if claim.agrees:
        return f"The averaging meter agrees: {n.format_signed(claim.at_target_stops)}"
    shown = n.format_signed(claim.at_target_stops)
    return f"On target the averaging meter reads {shown}: ignore it"


def _noise(analysis: Analysis) -> tuple[str, ...]:
    noise, setup = analysis.noise, analysis.setup
    side = "inside" if noise.inside_stops >= 0 else "beyond"
    said = [
        f"{n.format_stops(noise.inside_stops)} {side} your limit, "
        f"{noise.limit_words(setup.body.iso_ceiling)}",
        f"one stop more light: like ISO {n.format_estimate(noise.one_stop_buys_iso)}",
    ]
    if abs(noise.pulled_stops) >= 0.05:
        verb = "pulled down" if noise.pulled_stops > 0 else "lifted"
        said.append(f"{verb} {n.format_stops(noise.pulled_stops)} in the edit")
    if setup.frame_rate > setup.project_fps * 1.001 and not setup.records_stills:
        cost = n.format_stops(rate_cost_stops(setup.frame_rate, setup.project_fps))
        said.append(
            f"{n.format_frame_rate(setup.frame_rate)} fps takes {cost} of light against "
            f"{n.format_frame_rate(setup.project_fps)}"
        )
    veil = veil_share(setup.filters)
    if veil:
        mean = scene_means(setup.readings).averaging
        said.append(
            f"diffusion spreads about {n.format_number(100 * veil)} % of the light: no shadow "
            f"under {n.format_signed(veiled_floor_stops(veil, mean))} stops (a rough figure)"
        )
    floor = f"tones drown in noise {n.format_stops(noise.floor_stops)} under grey"
    if noise.floor_between is None:
        said += [floor, "sensor as measured"]
    else:
        worse, better = (n.format_number(-end) for end in noise.floor_between)
        said.append(f"{floor}, {worse} to {better} as sensors differ: typical, not measured")
    return tuple(said)


def _white(analysis: Analysis) -> tuple[str, ...]:
    white = analysis.white
    said = []
    if abs(white.off_mired) >= 1:
        side = "warmer" if white.off_mired > 0 else "cooler"
        said.append(
            f"the main light looks {n.format_number(abs(white.off_mired), 0)} mired {side} than "
            f"wanted; {n.format_number(white.wanted_k, 0)} K fits"
        )
    for source in white.others:
        gels = " and ".join(gel.name for gel in source.gels)
        gel = f"; a {gels} gel on it" if gels else ""
        look = "warmer" if source.apart_mired > 0 else "cooler"
        said.append(
            f"{source.name}: {n.format_number(abs(source.apart_mired), 0)} mired {look}{gel}"
        )
    said.append("lock it before the take: it drifts on auto")
    return tuple(said)

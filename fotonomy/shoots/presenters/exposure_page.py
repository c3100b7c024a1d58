"""Methods, meters, profiles and the question of enough light, ready for the templates."""

from dataclasses import dataclass

from django.utils.safestring import SafeString, mark_safe

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.analysis.traced_analysis import is_result
from fotonomy.core.compare.exposure_methods import MethodOutcome, compare_methods
from fotonomy.core.compare.low_light import WayOut, low_light
from fotonomy.core.compare.profiles import ProfileOutcome, compare_profiles
from fotonomy.core.exposure.metering import Claim, claims
from fotonomy.core.gear.profile import Profile
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.core.tiles import Tile
from fotonomy.core.traced_numbers import with_names
from fotonomy.exchange.changes_json import press_of
from fotonomy.figures.monitor.stops_key import level_strip
from fotonomy.kit.models import Profile as ProfileRow
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Setup
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.presenters.working import names_for, with_changes


@dataclass(frozen=True, slots=True)
class MethodView:
    """One method beside the others; ``take`` is empty where it is chosen or does not apply."""

    name: str
    offset: str
    strip: SafeString
    reason: str
    levels: tuple[str, ...]
    clipped: str
    shadows: str
    headroom: str
    work: str
    agrees: str
    take: str
    chosen: bool
    advised: bool
    applies: bool
    numbers: str


@dataclass(frozen=True, slots=True)
class ProfileView:
    """One profile at this scene, exposed by the method in force."""

    name: str
    grey: str
    headroom: str
    clips: str
    shadows: str
    codes: str
    bases: str
    take: str


@dataclass(frozen=True, slots=True)
class WayView:
    """One way to more light, or to less noise."""

    name: str
    gain: str
    price: str
    take: str


@dataclass(frozen=True, slots=True)
class LevelPage:
    """Everything the page takes."""

    methods: tuple[MethodView, ...]
    advice: str
    advised: str
    meters: tuple[tuple[Claim, str, str], ...]
    profiles: tuple[ProfileView, ...]
    enough: str
    enough_take: str
    lacks: bool
    ways: tuple[WayView, ...]
    numbers: str


def level_page(row: Setup) -> LevelPage:
    """The page of a setup."""
    spec = spec_of(row, packed_kit(row.shoot))
    analysis = analyse(spec)
    methods = compare_methods(spec)
    profiles = _profiles(row)
    enough = low_light(spec, profiles)
    found = claims(spec.readings, analysis.level, analysis.budget.exposure_stops)
    return LevelPage(
        methods=tuple(
            _method(row, s, analysis, s.placing.method is methods.chosen,
                    s.placing.method is methods.advised) for s in methods.all
        ),
        advice=methods.because,
        advised=methods.advised.label,
        meters=tuple(
            (claim, n.format_signed(claim.shows_stops), n.format_signed(claim.at_target_stops))
            for claim in found
        ),
        profiles=tuple(_profile(spec, one) for one in compare_profiles(spec, profiles)),
        enough=enough.words,
        enough_take=press_of(enough.limit_fix.changes),
        lacks=enough.missing_stops > 0,
        ways=tuple(_way(way) for way in enough.ways),
        numbers=names_for(row).many(Tile.LEVEL.value),
    )  # fmt: skip


def _profiles(row: Setup) -> tuple[Profile, ...]:
    """What the body records, or all there are; the one in use first."""
    every = ProfileRow.objects.filter(owner=row.shoot.owner)
    if not row.shoot.actor.owns:
        every = every.filter(setups__shoot=row.shoot).distinct()
    rows = list(row.body.profiles.all()) or list(every)
    specs = [p.to_spec() for p in rows if p.pk != row.profile_id and p.usable]
    return (row.profile.to_spec(), *sorted(specs, key=lambda p: p.name))


def _method(
    row: Setup, method: MethodOutcome, analysis: Analysis, chosen: bool, advised: bool
) -> MethodView:
    own = method.placing
    names = names_for(row, with_changes([Change("exposing", own.method)]))
    level = with_names(method.level, names, "level", is_result)
    side = "inside" if method.inside_stops >= 0 else "beyond"
    clipped = [
        f"{tone.name} by {n.format_stops(tone.clipped_stops)}"
        + ("" if tone.lost else ", let go") for tone in method.clipped
    ]  # fmt: skip
    return MethodView(
        name=own.method.label,
        offset=names.mark("budget.target_stops", n.format_signed(own.offset_stops)),
        # Markup from our own figure, which escapes what a person typed.
        strip=mark_safe(level_strip(method.level, analysis.noise.floor_stops)),
        reason=own.reason,
        levels=tuple(f"{tone.name} {n.format_number(tone.percent, 0)} %" for tone in level.tones),
        clipped=", ".join(clipped) or "nothing",
        shadows=f"like ISO {n.format_estimate(method.looks_like_iso)}, "
        f"{n.format_stops(method.inside_stops)} {side}",
        headroom=n.format_signed(method.headroom_left_stops),
        work=method.work,
        agrees=", ".join(other.label for other in method.agrees),
        take="" if chosen or not own.applies else press_of([Change("exposing", own.method)]),
        chosen=chosen,
        advised=advised,
        applies=own.applies,
        numbers=names.of("all"),
    )


def _profile(spec: Spec, one: ProfileOutcome) -> ProfileView:
    profile = one.profile
    lost = [f"{tone.name} by {n.format_stops(tone.clipped_stops)}" for tone in one.clipped]
    return ProfileView(
        name=profile.name,
        grey=f"{n.format_number(profile.recorded_grey_percent, 0)} %",
        headroom=n.format_number(one.level.headroom_stops),
        clips=", ".join(lost) or "nothing",
        shadows=f"like ISO {n.format_estimate(one.looks_like_iso)}",
        codes=f"{one.level.codes_a_stop} at {one.bits} bits",
        bases=" and ".join(map(str, profile.base_iso)) or "not said",
        take=""
        if profile.name == spec.profile.name
        else press_of([Change("profile", profile.name)]),
    )


def _way(way: WayOut) -> WayView:
    gain = "" if way.gain_stops is None else f"{n.format_signed(way.gain_stops)} stops"
    return WayView(way.name, gain, way.price, press_of(way.fix.changes) if way.fix else "")

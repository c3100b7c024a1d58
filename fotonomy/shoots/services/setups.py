"""What can be done to setups, one function a use case; each leaves a step to undo."""

from collections.abc import Iterable, Mapping
from dataclasses import replace
from datetime import time
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Max

from fotonomy.core.analysis.kind_wants import usual_ev, usual_light
from fotonomy.core.day.outline import OutlineScene, Shot, place_in, told_run, told_schedule
from fotonomy.core.errors import RuleError
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.planner.presets import SUNSET_SCREEN_S, preset_for
from fotonomy.core.spec import setup as core
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.readings import USUAL
from fotonomy.core.spec.setup import FRAMING, SETTINGS
from fotonomy.exchange.converter import to_data
from fotonomy.exchange.setup_json import SetupFile
from fotonomy.kit.models import Body, Lens, Profile
from fotonomy.kit.quotas import room_for_bytes
from fotonomy.kit.services import import_gear
from fotonomy.shoots import history
from fotonomy.shoots.history_rows import key_of, part_snapshot
from fotonomy.shoots.mapping import fresh_row, snapshot, spec_of, write_spec
from fotonomy.shoots.models import Day, Place, Scene, Setup, Shoot
from fotonomy.shoots.packed_kit import offered, packed_kit
from fotonomy.shoots.services.quotas import MOST_SCENES, room_for_setup
from fotonomy.shoots.write_lock import in_turn


class NothingToShootWithError(ValueError):
    """A setup needs a body, a lens and a profile; ``missing`` names what the kit lacks."""

    def __init__(self, missing: str) -> None:
        super().__init__(missing)
        self.missing = missing


def _next_position(shoot: Shoot) -> int:
    highest: int | None = shoot.setups.aggregate(at=Max("position"))["at"]
    return 0 if highest is None else highest + 1


def _created(row: Setup, label: str) -> Setup:
    history.record(row.shoot, label, {str(row.pk): None}, {str(row.pk): snapshot(row)})
    return row


# What a new setup takes over from the one on screen, beside its gear.
STARTS_FROM = (
    "light", "light_said", "mains_lamps", "lamp_hz", "support", "white_k", "tint_cc", "source_k",
    "recording", "subject_distance_m",
)  # fmt: skip


Gear = tuple[Body, Lens, Profile]


@transaction.atomic
def create_setup(
    shoot: Shoot, like: Setup | None = None, gear: Gear | None = None, title: str = ""
) -> Setup:
    """A new setup at its starting point, with the gear, support and light of the one ``like`` it.

    Without one it has the ``gear`` given, else that of the person's last setup, else the first
    body, lens and profile taken along, and its light is not said yet. Raises
    NothingToShootWithError if the kit lacks something.
    """
    row = _fresh_setup(shoot, like, gear, title=title)
    return _created(row, "new setup")


def _fresh_setup(
    shoot: Shoot, like: Setup | None, gear: Gear | None, shot: Shot | None = None, **columns: Any
) -> Setup:
    """The same for a shot of an outline, saved and not yet noted; ``columns`` are set as such."""
    kind = Kind.REAL_TIME if shot is None else shot.kind
    room_for_setup(shoot)
    if like is not None:
        gear = (like.body, like.lens, like.profile)
    body, lens, profile = gear or _last_gear(shoot) or _first_gear(shoot)
    kept = {} if like is None else {name: getattr(like, name) for name in STARTS_FROM}
    if shot is not None:
        # A line of an outline says nothing of its light; the setup before it had its own hour.
        kept |= {"light": {"ev100": kind.traits.usual_ev}, "light_said": False}
    row = Setup(
        shoot=shoot,
        day=like.day if like else shoot.first_day,
        position=_next_position(shoot),
        kind=Kind.REAL_TIME,
        body=body,
        lens=lens,
        profile=profile,
        focal_mm=lens.focal_shortest_mm if like is None else like.focal_mm,
        frame_rate=shoot.project_fps,
        shutter_time_s=1 / (2 * shoot.project_fps),
        iris=lens.widest_f,
        iso=body.iso_lowest,
        readings=to_data(USUAL),
        held=list(FRAMING),
        **{
            "light": {"ev100": kind.traits.usual_ev},
            "light_said": False,
            "place": like.place if like else shoot.main_place,
            **kept,
            **columns,
        },
    )
    row.filter_ids = row.thing_ids = ()
    spec = _as_told(spec_of(row, packed_kit(shoot)), kind, shot)
    write_spec(row, preset_for(spec, kind, True).setup)
    row.save()
    room_for_bytes(shoot.owner)
    return row


def _as_told(spec: core.Setup, kind: Kind, shot: Shot | None) -> core.Setup:
    """A fresh setup of a kind with what its line tells, in the light it wants."""
    run = spec.run if shot is None else told_run(shot, spec.run)
    made = replace(spec, kind=kind, run=run)
    if shot is not None and shot.day_to_night:
        made = replace(made, wanted_screen_s=SUNSET_SCREEN_S)
    told = None if shot is None else shot.wants
    schedule = made.schedule if shot is None else told_schedule(shot, made.schedule)
    made = replace(made, schedule=replace(schedule, wants=told or usual_light(made)))
    return made if made.light_said else replace(made, light=Ev100(usual_ev(made)))


# Letters of setups within a scene; O and I are left out, which are read as numbers.
LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ"


@in_turn()
@transaction.atomic
def make_outline(shoot: Shoot, scenes: Iterable[OutlineScene]) -> int:
    """Scenes and setups of an outline, one step to undo; how many setups were made.

    A scene of a known number gets the shots; what has no number or letter gets the next free one.
    Raises QuotaError, RuleError and NothingToShootWithError, and then nothing is made.
    """
    before: history.Snapshots = {}
    after: history.Snapshots = {}
    like = shoot.setups.planned().last()
    known = {scene.code: scene for scene in shoot.scenes.all()}
    codes = set(shoot.setups.values_list("code", flat=True))
    places = {key: place.name for key, place in shoot.places_by_id.items()}
    count = 0
    for given in scenes:
        scene = known.get(given.code) if given.code else None
        if scene is None:
            code = given.code or _next_number(known)
            scene = Scene(shoot=shoot, code=code, title=given.title, story=given.story)
            scene.position = len(known)
            if len(known) >= MOST_SCENES:
                raise RuleError(
                    "outline", f"a shoot takes {MOST_SCENES} scenes at most", len(known)
                )
            scene.save()
            known[code] = scene
            before[key_of(scene)], after[key_of(scene)] = None, part_snapshot(scene)
        for shot in given.shots:
            code = shot.code or next(
                (f"{scene.code}{a}{b}" for a in ("", *LETTERS) for b in LETTERS
                 if f"{scene.code}{a}{b}" not in codes), "",
            )  # fmt: skip
            codes.add(code)
            at = place_in(places, shot.title, given.title, given.story)
            where = {} if at is None else {"place": shoot.places_by_id[at]}
            row = _fresh_setup(
                shoot, like, None, shot, code=code[:8], title=shot.title,
                shot_size=shot.size.value, scene=scene, **where,
            )  # fmt: skip
            before[str(row.pk)], after[str(row.pk)] = None, snapshot(row)
            count += 1
    history.record(shoot, f"outline, {count} setups", before, after)
    return count


def _next_number(known: Mapping[str, Scene]) -> str:
    numbers = [int(code) for code in known if code.isdecimal()]
    return str(max(numbers, default=0) + 1)


def _last_gear(shoot: Shoot) -> Gear | None:
    """What the person planned with last, in whichever shoot; None where some stays at home."""
    rows = Setup.objects.filter(shoot__owner_id=shoot.owner_id).order_by("-pk")
    if not shoot.actor.owns:
        # The crew sees nothing of other shoots.
        rows = rows.filter(shoot=shoot)
    last = rows.with_gear().first() if shoot.packs_all else None
    return None if last is None else (last.body, last.lens, last.profile)


def _first_gear(shoot: Shoot) -> tuple[Body, Lens, Profile]:
    """The first body and lens taken along, and a profile of that body."""
    body, lens = offered(shoot, Body, "bodies").first(), offered(shoot, Lens, "lenses").first()
    profile = (body.profiles.first() if body else None) or Profile.objects.filter(
        owner=shoot.owner
    ).first()
    if body is None:
        raise NothingToShootWithError("camera body")
    if lens is None:
        raise NothingToShootWithError("lens")
    if profile is None:
        raise NothingToShootWithError("profile")
    return body, lens, profile


@transaction.atomic
def copy_setup(row: Setup) -> Setup:
    """The same setup once more, right below; the rest move down."""
    row = fresh_row(row)
    room_for_setup(row.shoot)
    room_for_bytes(row.shoot.owner)
    shoot, pieces, things = row.shoot, list(row.filters.all()), list(row.things.all())
    order = list(shoot.setups.only("shoot_id", "position"))
    at = next(i for i, other in enumerate(order) if other.pk == row.pk)
    copy = Setup.objects.get(pk=row.pk)
    copy.pk, copy.title = None, f"{row.title} (copy)"[:80]
    copy.position = at + 1
    copy.save(force_insert=True)
    copy.put_filters(pieces)
    copy.put_things(things)
    before, after = _renumber([*order[: at + 1], copy, *order[at + 1 :]])
    key = str(copy.pk)
    history.record(
        shoot, f"copy of {row}", {**before, key: None}, {**after, key: snapshot(copy)}
    )  # fmt: skip
    return copy


def _renumber(order: list[Setup]) -> tuple[history.Snapshots, history.Snapshots]:
    """Put setups into this order; where they stood before and now, of those that moved."""
    moved = [(row, at) for at, row in enumerate(order) if row.position != at]
    before: history.Snapshots = {str(row.pk): {"position": row.position} for row, _ in moved}
    after: history.Snapshots = {str(row.pk): {"position": at} for row, at in moved}
    for row, at in moved:
        row.position = at
    Setup.objects.bulk_update([row for row, _ in moved], ["position"], batch_size=200)
    return before, after


@transaction.atomic
def delete_setup(row: Setup) -> None:
    """Delete a setup; the history can bring it back."""
    row = fresh_row(row)
    shoot, key, before = row.shoot, str(row.pk), snapshot(row)
    label = f"{row} deleted"
    row.delete()
    history.record(shoot, label, {key: before}, {key: None})


@transaction.atomic
def order_setups(shoot: Shoot, wanted: list[int]) -> None:
    """Put setups into the wanted order; ids not named keep their place at the end."""
    rank = {pk: at for at, pk in enumerate(wanted)}
    rows = list(shoot.setups.only("shoot_id", "position"))
    rows.sort(key=lambda row: rank.get(row.pk, len(rank) + row.position))
    before, after = _renumber(rows)
    history.record(shoot, "new order", before, after)


@transaction.atomic
def move_setup(row: Setup, places: int) -> None:
    """Move a setup up (negative) or down the running order."""
    row = fresh_row(row)
    keys = list(row.shoot.setups.values_list("pk", flat=True))
    at = keys.index(row.pk)
    keys.insert(max(0, min(len(keys) - 1, at + places)), keys.pop(at))
    order_setups(row.shoot, keys)


@transaction.atomic
def import_setup(shoot: Shoot, owner: User, given: SetupFile) -> Setup:
    """A setup file as a new setup of this shoot.

    Gear the kit has under the same name with the same numbers is used; other gear is
    taken in under a free name. Edit frame rate and mains stay the shoot's own.
    """
    room_for_setup(shoot)
    place, day = where_of(shoot, given)
    spec = replace(given.setup, project_fps=shoot.project_fps, mains_hz=place.mains_hz)
    gear = import_gear(owner, spec)
    row = Setup(
        shoot=shoot, place=place, day=day, position=_next_position(shoot), body=gear.body,
        lens=gear.lens, profile=gear.profile, notes=given.notes,
        planned_time=time.fromisoformat(given.planned_time) if given.planned_time else None,
    )  # fmt: skip
    write_spec(row, spec)
    row.save()
    row.put_filters(gear.filters)
    row.put_things(gear.things)
    if not shoot.packs_all:
        shoot.bodies.add(gear.body)
        shoot.lenses.add(gear.lens)
        shoot.filters.add(*gear.filters)
        shoot.accessories.add(*gear.things)
    return _created(row, f"{row} imported")


# Degrees within which a file's place is one of the shoot's: about a hundred metres.
_NEAR_DEG = 0.001


def where_of(shoot: Shoot, given: SetupFile) -> tuple[Place, Day]:
    """The place and the day of a shoot that a file means: the first where it means none of them."""
    place, day = shoot.main_place, shoot.first_day
    said = given.place
    if said is None:
        return place, day
    for one in shoot.places_by_id.values():
        site = one.site
        if site is not None and said.latitude_deg is not None and said.longitude_deg is not None:
            apart = (site.latitude_deg - said.latitude_deg, site.longitude_deg - said.longitude_deg)
            if max(map(abs, apart)) < _NEAR_DEG:
                place = one
                break
    days = [one for one in shoot.days_by_id.values() if one.date.isoformat() == said.date]
    return place, days[0] if days else day


@transaction.atomic
def start_setup(row: Setup, moving: bool) -> Setup:
    """Put a setup to the starting point of its kind; one step to undo."""
    row = fresh_row(row)
    before = snapshot(row)
    spec = spec_of(row, packed_kit(row.shoot))
    write_spec(row, preset_for(spec, spec.kind, moving).setup)
    row.save()
    label = f"starting point, {spec.kind.label}"
    history.record(row.shoot, label, {str(row.pk): before}, {str(row.pk): snapshot(row)})
    return row


# What the settings of a setup are, apart from where it is and what it shows.
COPIED = ("frame_rate", "shutter", "iris", "iso", "nd_density", "white_k")


@transaction.atomic
def copy_settings(source: Setup, target: Setup) -> Setup:
    """Give one setup the settings of another, held, free and limited alike; one step to undo.

    Lens, focal length and distance stay the target's own. What its gear lacks is copied all
    the same and then stands in its findings. RuleError where no camera has such a setting.
    """
    source, target = fresh_row(source), fresh_row(target)
    before = snapshot(target)
    packed = packed_kit(target.shoot)
    given, spec = spec_of(source, packed), spec_of(target, packed)
    own, theirs = frozenset(FRAMING), frozenset(SETTINGS)
    limits = [limit for limit in spec.limits if limit.setting in own]
    limits += [limit for limit in given.limits if limit.setting in theirs]
    copied = replace(
        spec, **{name: getattr(given, name) for name in COPIED},
        held=spec.held & own | given.held & theirs, limits=tuple(limits),
    )  # fmt: skip
    write_spec(target, copied)
    target.save()
    label = f"settings of {source}"[:120]
    history.record(
        target.shoot, label, {str(target.pk): before}, {str(target.pk): snapshot(target)}
    )
    return target

"""From rows to the core's specs and back, and to snapshots for the ledger."""

from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import AbstractBaseUser

from fotonomy.core import gear
from fotonomy.core import setup as core
from fotonomy.core.shutter import Shutter
from fotonomy.exchange.setup_json import SetupFile, light_from_data, light_to_data
from fotonomy.kit.models import Filter
from fotonomy.shoots.models import Setup

# Columns that stand in a snapshot as they are.
PLAIN_COLUMNS = (
    "position", "code", "title", "kind", "light", "mains_lamps", "key_name", "key_stops",
    "subject", "subject_speed_m_s", "subject_distance_m", "body_id", "lens_id", "profile_id",
    "focal_mm", "frame_rate", "shutter_angle_deg", "shutter_time_s", "iris", "iso",
    "nd_density", "white_k", "held", "wanted_screen_s", "handle_s", "notes",
)  # fmt: skip
# Columns of a row that are fields of the core's Setup under the same name.
SHARED_FIELDS = (
    "code", "title", "mains_lamps", "key_name", "key_stops", "subject", "subject_speed_m_s",
    "subject_distance_m", "focal_mm", "frame_rate", "iris", "iso", "nd_density", "white_k",
    "wanted_screen_s", "handle_s",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class OwnGlass:
    """A person's filters: the ND a planner may stack, and the rest by row id."""

    nd: tuple[gear.Glass, ...]
    others: dict[int, gear.Glass]

    @property
    def other_names(self) -> tuple[str, ...]:
        """Names of the filters that are no ND."""
        return tuple(piece.name for piece in self.others.values())


def glass_of(owner: AbstractBaseUser) -> OwnGlass:
    """The glass a person owns."""
    pieces = list(Filter.objects.filter(owner=owner))
    return OwnGlass(
        tuple(piece.to_spec() for piece in pieces if piece.kind in Filter.KNOB_KINDS),
        {piece.pk: piece.to_spec() for piece in pieces if piece.kind not in Filter.KNOB_KINDS},
    )


def spec_of(row: Setup, glass: OwnGlass) -> core.Setup:
    """A row as the core plans it. Raises RuleError where the row's numbers break a rule."""
    return core.Setup(
        kind=core.Kind(row.kind),
        project_fps=row.shoot.project_fps,
        mains_hz=row.shoot.mains_hz,
        light=light_from_data(row.light),
        body=row.body.to_spec(),
        lens=row.lens.to_spec(),
        profile=row.profile.to_spec(),
        glass=glass.nd,
        filters=tuple(glass.others[pk] for pk in row.filter_ids if pk in glass.others),
        shutter=Shutter(angle_deg=row.shutter_angle_deg, time_s=row.shutter_time_s),
        held=frozenset(row.held),
        **{name: getattr(row, name) for name in SHARED_FIELDS},
    )


def write_spec(row: Setup, spec: core.Setup) -> None:
    """Put a spec's numbers into a row; its gear is the row's own affair."""
    for name in SHARED_FIELDS:
        setattr(row, name, getattr(spec, name))
    row.kind = spec.kind.value
    row.light = light_to_data(spec.light)
    row.held = sorted(spec.held)
    row.shutter_angle_deg = spec.shutter.angle_deg
    row.shutter_time_s = spec.shutter.time_s


def file_of(row: Setup, glass: OwnGlass) -> SetupFile:
    """A row as a setup file."""
    time = row.planned_time.strftime("%H:%M") if row.planned_time else None
    return SetupFile(spec_of(row, glass), time, row.notes)


def snapshot(row: Setup) -> dict[str, Any]:
    """Everything about a row, as JSON data."""
    data = {name: getattr(row, name) for name in PLAIN_COLUMNS}
    data["planned_time"] = row.planned_time.isoformat() if row.planned_time else None
    data["filters"] = list(row.filter_ids)
    return data

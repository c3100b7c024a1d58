"""Taking gear from a file into a person's kit."""

from typing import Any, TypeVar

from django.contrib.auth.models import AbstractBaseUser

from fotonomy.core import gear
from fotonomy.core.curves import ParametricLog
from fotonomy.core.density import stops_to_density
from fotonomy.core.setup import Setup
from fotonomy.kit.models import Body, Filter, Gear, Lens, Profile

GearKind = TypeVar("GearKind", bound=Gear)


def take_in_gear(owner: AbstractBaseUser, spec: Setup) -> tuple[Body, Lens, Profile, list[Filter]]:
    """Rows for a spec's body, lens, profile and filters, its ND taken in too.

    Same name and same numbers: the person's own row. Otherwise a new one, under a
    free name such as "A-cam (2)".
    """
    profile = _take_in(Profile, owner, spec.profile, profile_columns(spec.profile))
    body = _take_in(Body, owner, spec.body, body_columns(spec.body))
    if body.name != spec.body.name or not body.profiles.exists():
        body.profiles.add(profile)
    lens = _take_in(Lens, owner, spec.lens, lens_columns(spec.lens))
    for piece in spec.glass:
        _take_in(Filter, owner, piece, filter_columns(piece))
    filters = [_take_in(Filter, owner, piece, filter_columns(piece)) for piece in spec.filters]
    return body, lens, profile, filters


def _take_in(
    model: type[GearKind], owner: AbstractBaseUser, wanted: Any, columns: dict[str, Any]
) -> GearKind:
    name = wanted.name
    for number in range(2, 1000):
        row = model.objects.filter(owner=owner, name=name).first()
        if row is None:
            return model.objects.create(owner=owner, name=name, **columns)
        if all(_same(getattr(row, key), value) for key, value in columns.items()):
            return row
        name = f"{wanted.name[:70]} ({number})"
    raise ValueError(f"no free name for {wanted.name}")


def _same(have: Any, wanted: Any) -> bool:
    if isinstance(have, float) and isinstance(wanted, int | float):
        return abs(have - wanted) <= 1e-6 * max(1.0, abs(have))
    return bool(have == wanted)


def body_columns(body: gear.Body) -> dict[str, Any]:
    """A body's spec as columns, its profiles apart."""
    plain = {
        key: getattr(body, key)
        for key in (
            "sensor_width_mm", "sensor_height_mm", "width_px", "height_px", "slowest_s",
            "fastest_s", "iso_lowest", "iso_highest", "iso_ceiling", "card_gb", "still_mb",
        )
    }  # fmt: skip
    return {
        **plain,
        "rates": [[rate.fps, rate.mb_s] for rate in body.rates],
        "drive_rates_fps": list(body.drive_rates_fps),
        "shutter_style": body.shutter_style.value,
        "angles_deg": list(body.angles_deg),
    }


def lens_columns(lens: gear.Lens) -> dict[str, Any]:
    """A lens's spec as columns."""
    return {
        key: getattr(lens, key)
        for key in (
            "focal_shortest_mm", "focal_longest_mm", "widest_f", "smallest_f",
            "transmission_stops", "thread_mm",
        )
    }  # fmt: skip


def filter_columns(piece: gear.Glass) -> dict[str, Any]:
    """A filter's spec as columns."""
    if piece.kind.value not in Filter.KNOB_KINDS:
        return {"kind": piece.kind.value, "loss_stops": piece.stops, "thread_mm": piece.thread_mm}
    most = None if piece.most_stops is None else round(stops_to_density(piece.most_stops), 4)
    return {
        "kind": piece.kind.value,
        "density": round(stops_to_density(piece.stops), 4),
        "most_density": most,
        "thread_mm": piece.thread_mm,
    }


def profile_columns(profile: gear.Profile) -> dict[str, Any]:
    """A profile's spec as columns."""
    curve = profile.curve
    log = isinstance(curve, ParametricLog)
    parameters = {key: getattr(curve, key) if log else None for key in Profile.PARAMETERS}
    return {
        **parameters,
        "curve": Profile.LOG if log else Profile.BT709,
        "clip_percent": profile.clip_percent,
        "grey_percent": profile.grey_percent,
        "scale": profile.scale.value,
        "bits": profile.bits,
        "base_iso": list(profile.base_iso),
    }

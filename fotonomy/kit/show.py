"""One line of words for each thing of the kit."""

from fotonomy.core import notation as n
from fotonomy.core.density import density_to_factor, density_to_stops
from fotonomy.core.levels import headroom_stops
from fotonomy.kit.models import Body, Filter, Lens, Profile


def body_words(body: Body) -> str:
    """Sensor, frame rates, shutter and ISO of a body."""
    rates = ", ".join(n.format_number(fps, 3) for fps, _ in body.rates)
    return (
        f"{n.format_number(body.sensor_width_mm)} × {n.format_number(body.sensor_height_mm)} mm, "
        f"{body.width_px} × {body.height_px} px · {rates} fps · "
        f"{n.format_time(body.slowest_s)} to {n.format_time(body.fastest_s)} · "
        f"ISO {body.iso_lowest} to {body.iso_highest}, ceiling {body.iso_ceiling} · "
        f"{n.format_number(body.card_gb)} GB card"
    )


def lens_words(lens: Lens) -> str:
    """Focal range and iris range of a lens."""
    focal = n.format_number(lens.focal_shortest_mm)
    if lens.focal_longest_mm != lens.focal_shortest_mm:
        focal = f"{focal} to {n.format_number(lens.focal_longest_mm)}"
    words = f"{focal} mm · {n.format_iris(lens.widest_f)} to {n.format_iris(lens.smallest_f)}"
    if lens.transmission_stops:
        words += f" · loses {n.format_number(lens.transmission_stops, 2)} stop"
    return words + (f" · {n.format_number(lens.thread_mm)} mm thread" if lens.thread_mm else "")


def filter_words(piece: Filter) -> str:
    """What a filter takes, in all three names of its density."""
    fit = f"{n.format_number(piece.thread_mm)} mm" if piece.thread_mm else "square"
    if piece.density is None or piece.kind not in Filter.KNOB_KINDS:
        return (
            f"{piece.get_kind_display()} · {n.format_number(piece.loss_stops or 0)} stops · {fit}"
        )
    named = f"ND {n.format_density(piece.density)} · ND{density_to_factor(piece.density)}"
    stops = n.format_number(density_to_stops(piece.density))
    if piece.most_density is not None:
        top = n.format_density(piece.most_density)
        most = n.format_number(density_to_stops(piece.most_density))
        low = n.format_density(piece.density)
        return f"variable, {low} to {top} · {stops} to {most} stops · {fit}"
    return f"{named} · {stops} stops · {fit}"


def profile_words(profile: Profile) -> str:
    """Grey, clip, headroom and base ISO of a profile."""
    spec = profile.to_spec()
    base = " and ".join(str(iso) for iso in profile.base_iso)
    words = (
        f"{profile.get_curve_display()} · grey {n.format_number(spec.recorded_grey_percent)} %, "
        f"clip {n.format_number(profile.clip_percent)} %, "
        f"{n.format_number(headroom_stops(spec))} stops over grey · {profile.bits} bits"
    )
    return words + (f" · base ISO {base}" if base else "")

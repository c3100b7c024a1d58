"""One line of words for each thing of the kit."""

from fotonomy.core.gear.accessories import Battery, Card, Device, Remote
from fotonomy.core.gear.filters import Mount
from fotonomy.core.gear.neutral_density import density_to_factor, density_to_stops
from fotonomy.core.notation import writing as n
from fotonomy.core.tone.signal_levels import headroom_stops
from fotonomy.kit.models import Accessory, Body, Filter, Lens, Profile


def body_words(body: Body) -> str:
    """Formats, shutter and ISO of a body."""
    spec = body.to_spec()
    rates = [rate.fps for recorded in spec.formats for rate in recorded.rates]
    formats = "1 format" if len(spec.formats) == 1 else f"{len(spec.formats)} formats"
    first = spec.formats[0]
    low, high = spec.iso_reach
    return (
        f"{n.format_number(first.sensor_width_mm)} × {n.format_number(first.sensor_height_mm)} mm, "
        f"{formats} · {n.format_number(min(rates), 3)} to {n.format_number(max(rates), 3)} fps · "
        f"{n.format_time(spec.slowest_s)} to {n.format_time(spec.fastest_s)} · "
        f"ISO {low} to {high}, ceiling {spec.iso_ceiling} · "
        f"{n.format_number(spec.card_gb)} GB card"
    )


def lens_words(lens: Lens) -> str:
    """Focal range and iris range of a lens."""
    focal = n.format_number(lens.focal_shortest_mm)
    if lens.focal_longest_mm != lens.focal_shortest_mm:
        focal = f"{focal} to {n.format_number(lens.focal_longest_mm)}"
    wide = n.format_iris(lens.widest_f)
    if lens.widest_long_f is not None and lens.widest_long_f != lens.widest_f:
        wide = f"{wide}–{n.format_number(lens.widest_long_f, 1)}"
    words = f"{focal} mm · {wide} to {n.format_iris(lens.smallest_f)}"
    if lens.close_focus_m:
        words += f" · from {n.format_length(lens.close_focus_m)}"
    if lens.squeeze != 1:
        words += f" · squeeze {n.format_number(lens.squeeze, 2)}"
    if lens.stabiliser_stops:
        words += f" · stabiliser {n.format_number(lens.stabiliser_stops)} stops"
    if lens.transmission_stops:
        words += f" · loses {n.format_number(lens.transmission_stops, 2)} stop"
    return words + (f" · {n.format_number(lens.thread_mm)} mm thread" if lens.thread_mm else "")


def filter_words(piece: Filter) -> str:
    """What a filter takes, in all three names of its density."""
    seats = {Mount.SQUARE.value: "square", Mount.CLIP_ON.value: "clipped in"}
    fit = seats.get(piece.mount, f"{n.format_number(piece.thread_mm or 0)} mm")
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


def device_words(device: Device) -> str:
    """What a remote, a card, a battery or a heater can do."""
    match device:
        case Remote():
            first = "the first after one" if device.waits_first else "the first at once"
            far = "any number" if device.most_count is None else f"up to {device.most_count}"
            open_end = ", or unlimited" if device.unlimited else ""
            sure = f", sure to {device.sure_count}" if device.sure_count else ""
            return f"interval {device.counting.label}, {first} · {far} frames{open_end}{sure}"
        case Card():
            speed = device.write_mb_s
            takes = f" · keeps up {n.format_number(speed, 0)} MB/s" if speed else ""
            return f"{n.format_number(device.size_gb, 0)} GB{takes}"
        case Battery():
            where = "external pack" if device.external else "in the camera"
            many = f"{device.count} of " if device.count > 1 else ""
            lost = device.loss_percent
            less = f", {n.format_number(lost, 0)} % lost stepped up" if lost else ""
            return f"{many}{n.format_number(device.energy_wh)} Wh, {where}{less}"
    return f"draws {n.format_number(device.power_w)} W from {device.fed_by.label}"


def accessory_words(thing: Accessory) -> str:
    """What a ring, a matte box, a tube or a support is for."""
    match thing.sort:
        case Accessory.RING:
            lens, glass = thing.lens_mm or 0, thing.filter_mm or 0
            return f"{n.format_number(glass)} mm filters on a {n.format_number(lens)} mm lens"
        case Accessory.BOX:
            return f"square filters on lenses up to {n.format_number(thing.lens_mm or 0)} mm"
        case Accessory.TUBE:
            return f"{n.format_number(thing.length_mm or 0)} mm between body and lens"
        case Accessory.LAMP:
            wide = n.format_length(thing.size_m or 0.1)
            return f"{n.format_compact(thing.lux_1m or 0)} lux a metre before it, {wide} wide"
        case sort if sort in Accessory.DEVICES:
            return device_words(thing.to_device())
    return f"carries the camera: {thing.get_support_display()}"


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

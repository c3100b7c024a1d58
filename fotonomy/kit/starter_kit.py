"""A first kit for a new account, so that the bench works before any gear is entered."""

from django.contrib.auth.models import User

from fotonomy.kit.models import Body, Filter, Lens, Profile

# Invented, middling gear: something to change into one's own.
_BODY = {
    "formats": [{
        "name": "4K", "sensor_width_mm": 36.0, "sensor_height_mm": 20.25, "width_px": 3840,
        "height_px": 2160, "bits": 10, "chroma": "4:2:2", "readout_ms": None,
        "rates": [
            {"fps": fps, "mb_s": mb_s}
            for fps, mb_s in ((24, 100), (25, 100), (30, 100), (50, 150), (60, 150), (100, 280))
        ],
    }],
    "shutter_style": "time", "iso_lowest": 100, "iso_highest": 51_200, "iso_ceiling": 6400,
}  # fmt: skip
_LENS = {"focal_shortest_mm": 24.0, "focal_longest_mm": 70.0, "widest_f": 2.8, "smallest_f": 22.0,
         "thread_mm": 77.0}  # fmt: skip


_ZOOM, _CAMERA = "Zoom 24 to 70", "My camera"
_DENSITIES = (0.6, 0.9, 1.8)


def video_profile(owner: User) -> Profile:
    """Plain video, made where the person has none of that name."""
    return Profile.objects.get_or_create(
        owner=owner, name="Video",
        defaults={"curve": "bt709", "clip_percent": 109.0, "base_iso": [100]},
    )[0]  # fmt: skip


def give_starter_kit(owner: User) -> None:
    """What a kit lacks of a body, a lens, three ND filters and plain video, to be changed at will.

    What is there stays: somebody with a camera of their own gets no second one.
    """
    bodies = Body.objects.filter(owner=owner)
    body = bodies.first() or Body.objects.create(owner=owner, name=_CAMERA, **_BODY)
    if not Profile.objects.filter(owner=owner).exists():
        body.profiles.add(video_profile(owner))
    if not Lens.objects.filter(owner=owner).exists():
        Lens.objects.create(owner=owner, name=_ZOOM, **_LENS)
    densities = () if Filter.objects.filter(owner=owner).exists() else _DENSITIES
    for density in densities:
        Filter.objects.create(
            owner=owner, name=f"ND {density}", kind="nd", density=density, thread_mm=77.0
        )


def remove_starter_kit(owner: User) -> None:
    """Take out what is still as it was given and that no setup uses; plain video stays."""
    Body.objects.filter(owner=owner, name=_CAMERA, setups=None, **_BODY).delete()
    Lens.objects.filter(owner=owner, name=_ZOOM, setups=None, **_LENS).delete()
    names = [f"ND {density}" for density in _DENSITIES]
    Filter.objects.filter(
        owner=owner, name__in=names, kind="nd", thread_mm=77.0, setups=None
    ).delete()

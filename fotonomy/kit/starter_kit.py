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


def give_starter_kit(owner: User) -> None:
    """One body, one lens, three ND filters and plain video, to be changed at will."""
    video = Profile.objects.create(
        owner=owner, name="Video", curve="bt709", clip_percent=109.0, base_iso=[100]
    )
    body = Body.objects.create(owner=owner, name="My camera", **_BODY)
    body.profiles.add(video)
    Lens.objects.create(owner=owner, name="Zoom 24 to 70", **_LENS)
    for density in (0.6, 0.9, 1.8):
        Filter.objects.create(
            owner=owner, name=f"ND {density}", kind="nd", density=density, thread_mm=77.0
        )

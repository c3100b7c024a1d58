"""The shades of the stops view."""

import numpy as np

# Stops from grey as one line of lightness, from slate to amber: every step up is lighter, so
# that it reads without colour. Beyond the ends it is hatched.
STOP_RANGE = (-7, 7)
_RAMP = (
    (-7, (18, 24, 30)), (-4, (44, 66, 84)), (-2, (78, 104, 120)), (0, (140, 140, 132)),
    (2, (196, 170, 104)), (4, (240, 196, 92)), (7, (255, 244, 214)),
)  # fmt: skip


def stop_colour(stop: float) -> tuple[int, int, int]:
    """Red, green and blue of a stop on the ramp."""
    at = [stop for stop, _ in _RAMP]
    red, green, blue = (
        round(float(np.interp(stop, at, [colour[k] for _, colour in _RAMP]))) for k in range(3)
    )
    return red, green, blue

"""What carries the camera."""

from enum import StrEnum


class Support(StrEnum):
    """What carries the camera."""

    HAND = "hand"
    SHOULDER = "shoulder"
    GIMBAL = "gimbal"
    TRIPOD = "tripod"
    VEHICLE = "vehicle"
    DRONE = "drone"


# Supports on which a stabiliser has nothing to steady.
STEADY_SUPPORTS = frozenset({Support.TRIPOD})
# Supports where a person's own shake reaches the picture.
SHAKEN_SUPPORTS = frozenset({Support.HAND, Support.SHOULDER})

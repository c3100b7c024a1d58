"""What a diffusion filter does to contrast: a rough figure, since no maker states one.

Some of the light of the whole picture is spread over all of it, a veil that lifts the shadows.
"""

from math import log2

from fotonomy.core.gear.filters import Filter, FilterKind

# Of each stop a diffusion filter takes, so much of the picture's mean light comes back as a veil.
# Common practice, no source: rough by a factor of two either way.
VEIL_SHARE_A_STOP = 0.1
# What a filter that states no loss is taken for, in stops.
UNSTATED_STOPS = 0.25


def veil_share(filters: tuple[Filter, ...]) -> float:
    """Share of the picture's mean light that diffusion filters spread over it; 0 without one."""
    soft = [piece for piece in filters if piece.kind is FilterKind.DIFFUSION]
    return sum(VEIL_SHARE_A_STOP * (piece.stops or UNSTATED_STOPS) for piece in soft)


def veiled_floor_stops(share: float, mean_stops: float) -> float:
    """Stops from grey that no shadow goes under, for a mean of the picture in stops from grey.

    ValueError without a veil.
    """
    if share <= 0:
        raise ValueError("no veil, no floor")
    return mean_stops + log2(share)

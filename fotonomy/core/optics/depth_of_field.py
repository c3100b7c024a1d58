"""Depth of field, framing, blur and diffraction of a thin lens."""

from dataclasses import dataclass
from math import inf, log2

from fotonomy.core import constants as c
from fotonomy.core.conversions import MM_A_M, PERCENT, UM_A_MM
from fotonomy.core.gear.imaging import Reach
from fotonomy.core.spec.intent import Circle

# Bellows loss is counted from the first magnification on, all of it from the second on.
# Common practice, no source.
BELLOWS_FROM, BELLOWS_WHOLE_FROM = 0.02, 0.1
AIRY_WAVELENGTH_UM = 0.55


def circle_mm(method: Circle, diagonal_mm: float, pitch_mm: float) -> float:
    """Circle of confusion: the diagonal over 1500, or two delivered pixels."""
    return diagonal_mm / 1500 if method is Circle.DIAGONAL else 2 * pitch_mm


def hyperfocal_m(focal_mm: float, f_number: float, c_mm: float) -> float:
    """``H = f^2/(N*c) + f``, in metres."""
    return (focal_mm**2 / (f_number * c_mm) + focal_mm) / MM_A_M


def bellows_stops(m: float) -> float:
    """Light lost to extension at magnification ``m``: ``2*log2(1 + m)``, pupil ratio 1.

    Up to a fiftieth of life size focusing scales and meters ignore it; from there it comes in
    by and by, all of it from a tenth on, so that nothing jumps (common practice, no source).
    """
    share = (m - BELLOWS_FROM) / (BELLOWS_WHOLE_FROM - BELLOWS_FROM)
    return 2 * log2(1 + m) * min(1.0, max(0.0, share))


def effective_f_number(f_number: float, m: float) -> float:
    """The f-number that light and diffraction go by at magnification ``m``: ``N*(1 + m)``."""
    return f_number * (1 + m)


def near_far_m(focal_mm: float, f_number: float, c_mm: float, s_m: float) -> tuple[float, float]:
    """Near and far limits, ``s(H-f)/(H+s-2f)`` and ``s(H-f)/(H-s)``, metres; far may be inf."""
    h, f = hyperfocal_m(focal_mm, f_number, c_mm), focal_mm / 1000
    near = s_m * (h - f) / (h + s_m - 2 * f)
    far = s_m * (h - f) / (h - s_m) if s_m < h else inf
    return near, far


def sharp_from_m(
    behind_m: float, focal_mm: float, f_number: float, c_mm: float, s_m: float
) -> float:
    """The near limit, counted from the sensor as distances are engraved, in metres."""
    hyper_m = hyperfocal_m(focal_mm, f_number, c_mm)
    return behind_m + s_m * (hyper_m - focal_mm / MM_A_M) / (hyper_m + s_m - 2 * focal_mm / MM_A_M)


def sharp_to_m(behind_m: float, focal_mm: float, f_number: float, c_mm: float, s_m: float) -> float:
    """The far limit, likewise; infinite from the hyperfocal distance on."""
    hyper_m = hyperfocal_m(focal_mm, f_number, c_mm)
    if s_m >= hyper_m:
        return inf
    return behind_m + s_m * (hyper_m - focal_mm / MM_A_M) / (hyper_m - s_m)


def airy_um(f_number: float, m: float = 0.0) -> float:
    """Diameter of the Airy disc, ``2.44*lambda*N*(1+m)``, micrometres, lambda 0.55."""
    return 2.44 * AIRY_WAVELENGTH_UM * f_number * (1 + m)


def blur_disc_mm(focal_mm: float, f_number: float, m: float, s_m: float, at_m: float) -> float:
    """Diameter on the sensor of the disc a point at ``at_m`` makes, focused at ``s_m``.

    ``f/N * m * |d - s|/d``; for a point at infinity ``f/N * m``. ``m`` is the magnification.
    """
    share = 1.0 if at_m == inf else abs(at_m - s_m) / at_m
    return focal_mm / f_number * m * share


@dataclass(frozen=True, slots=True)
class Focus:
    """The focus lane. Distances in metres from the sensor plane, blur in mm there and percent.

    ``far_m`` and ``depth_m`` may be infinite; ``two_pixels_um`` is what the Airy disc is
    held against. ``needed_iris`` is the widest f-number that keeps ``wanted_depth_m`` sharp,
    None where nothing is wanted or no f-number does it.
    """

    circle_mm: float
    hyperfocal_m: float
    near_m: float
    far_m: float
    depth_m: float
    field_width_m: float
    field_height_m: float
    magnification: float
    bellows_stops: float
    background_m: float
    background_blur_mm: float
    background_blur_percent: float
    airy_um: float
    two_pixels_um: float
    reach: Reach | None
    wanted_depth_m: float | None
    needed_iris: float | None

    @property
    def diffraction_stops(self) -> float:
        """Stops by which the Airy disc is over two delivered pixels; 0 if under."""
        return max(0.0, 2 * log2(self.airy_um / self.two_pixels_um))


def between_m(near_m: float, far_m: float) -> float:
    """Depth of field in metres, from its near limit to its far one; may be infinite."""
    return far_m - near_m


def share_of_width_percent(blur_mm: float, sensor_width_mm: float) -> float:
    """A size on the sensor in percent of its width."""
    return PERCENT * blur_mm / sensor_width_mm


def two_pixels_um(pitch_mm: float) -> float:
    """Two delivered pixels on the sensor, in micrometres: what the Airy disc is held against."""
    return 2 * pitch_mm * UM_A_MM


def depth_m(focal_mm: float, f_number: float, c_mm: float, s_m: float) -> float:
    """Depth of field in metres, near limit to far limit; may be infinite."""
    near, far = near_far_m(focal_mm, f_number, c_mm, s_m)
    return far - near


def iris_for_depth(focal_mm: float, c_mm: float, s_m: float, wanted_m: float) -> float | None:
    """Widest f-number whose depth of field is ``wanted_m``, in closed form, f/0.5 at least.

    None where nothing is wanted.

    With ``q = N*c*(s-f)/f^2`` near and far are ``s/(1+q)`` and ``s/(1-q)``, the depth is
    ``2*s*q/(1-q^2)``, and so ``q = (-s + sqrt(s^2 + w^2))/w``.
    """
    if wanted_m <= 0:
        return None
    q = ((s_m**2 + wanted_m**2) ** 0.5 - s_m) / wanted_m
    exact = q * focal_mm**2 / (c_mm * (MM_A_M * s_m - focal_mm))
    return exact if exact >= c.F_NUMBER_RANGE[0] else c.F_NUMBER_RANGE[0]

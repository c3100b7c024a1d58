"""Depth of field, framing, blur and diffraction of a thin lens."""

from dataclasses import dataclass
from math import inf, log2

from fotonomy.core import constants as c
from fotonomy.core.errors import RuleError
from fotonomy.core.spec.intent import Circle

# Focus. Bellows loss is counted from this magnification on. Common practice, no source.
BELLOWS_FROM_MAGNIFICATION = 0.1
AIRY_WAVELENGTH_UM = 0.55


def circle_mm(school: Circle, diagonal_mm: float, pitch_mm: float) -> float:
    """Circle of confusion: the diagonal over 1500, or two delivered pixels."""
    return diagonal_mm / 1500 if school is Circle.DIAGONAL else 2 * pitch_mm


def hyperfocal_m(focal_mm: float, f_number: float, c_mm: float) -> float:
    """``H = f^2/(N*c) + f``, in metres."""
    return (focal_mm**2 / (f_number * c_mm) + focal_mm) / 1000


def magnification(focal_mm: float, distance_m: float) -> float:
    """``m = f/(s - f)`` of a thin lens focused at ``s``; RuleError inside the focal length."""
    if 1000 * distance_m <= focal_mm:
        raise RuleError(
            "subject_distance_m",
            f"has to be more than the focal length, {focal_mm:g} mm",
            distance_m,
        )
    return focal_mm / (1000 * distance_m - focal_mm)


def bellows_stops(m: float) -> float:
    """Light lost to extension at magnification ``m``: ``2*log2(1 + m)``, pupil ratio 1.

    Counted from a tenth of life size on; below, focusing scales and meters ignore it
    (common practice, no source).
    """
    return 2 * log2(1 + m) if m >= BELLOWS_FROM_MAGNIFICATION else 0.0


def near_far_m(focal_mm: float, f_number: float, c_mm: float, s_m: float) -> tuple[float, float]:
    """Near and far limits, ``s(H-f)/(H+s-2f)`` and ``s(H-f)/(H-s)``, metres; far may be inf."""
    h, f = hyperfocal_m(focal_mm, f_number, c_mm), focal_mm / 1000
    near = s_m * (h - f) / (h + s_m - 2 * f)
    return near, (s_m * (h - f) / (h - s_m) if s_m < h else inf)


def close_up_depth_mm(f_number: float, c_mm: float, m: float) -> float:
    """Total depth ``2*N*c*(1+m)/m^2`` close up, in mm."""
    return 2 * f_number * c_mm * (1 + m) / m**2


def airy_um(f_number: float, m: float = 0.0) -> float:
    """Diameter of the Airy disc, ``2.44*lambda*N*(1+m)``, micrometres, lambda 0.55."""
    return 2.44 * AIRY_WAVELENGTH_UM * f_number * (1 + m)


def blur_disc_mm(focal_mm: float, f_number: float, s_m: float, at_m: float) -> float:
    """Diameter on the sensor of the disc a point at ``at_m`` makes, focused at ``s_m``.

    ``f/N * m * |d - s|/d``; for a point at infinity ``f/N * m``.
    """
    m = magnification(focal_mm, s_m)
    share = 1.0 if at_m == inf else abs(at_m - s_m) / at_m
    return focal_mm / f_number * m * share


@dataclass(frozen=True, slots=True)
class Reach:
    """How near and how far a lens with tubes can be focused, in metres."""

    near_m: float
    far_m: float


def reach(
    focal_mm: float, close_focus_m: float | None, greatest: float | None, tubes_mm: float
) -> Reach | None:
    """Distances a lens focuses at with ``tubes_mm`` of tube; None where its limit is unknown.

    Extension ``x`` adds ``x/f`` to the magnification at either end of the ring, and a
    thin lens at magnification ``m`` is focused at ``f*(1 + 1/m)``.
    """
    if greatest is None and close_focus_m is not None and 1000 * close_focus_m > focal_mm:
        greatest = magnification(focal_mm, close_focus_m)
    added = tubes_mm / focal_mm
    far = focal_mm * (1 + 1 / added) / 1000 if added else inf
    if greatest is None:
        return Reach(focal_mm / 1000, far) if added else None
    most = greatest + added
    near = focal_mm * (1 + 1 / most) / 1000
    if close_focus_m is not None:
        near = min(near, close_focus_m)
    return Reach(near, far)


@dataclass(frozen=True, slots=True)
class Focus:
    """The focus lane. Distances in metres from the lens, blur in mm on the sensor and percent.

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


def depth_m(focal_mm: float, f_number: float, c_mm: float, s_m: float) -> float:
    """Depth of field in metres, near limit to far limit; may be infinite."""
    near, far = near_far_m(focal_mm, f_number, c_mm, s_m)
    return far - near


def iris_for_depth(focal_mm: float, c_mm: float, s_m: float, wanted_m: float) -> float | None:
    """Widest f-number whose depth of field is ``wanted_m``, in closed form; None under f/0.5.

    With ``q = N*c*(s-f)/f^2`` near and far are ``s/(1+q)`` and ``s/(1-q)``, the depth is
    ``2*s*q/(1-q^2)``, and so ``q = (-s + sqrt(s^2 + w^2))/w``.
    """
    if wanted_m <= 0:
        return None
    q = ((s_m**2 + wanted_m**2) ** 0.5 - s_m) / wanted_m
    f_number = q * focal_mm**2 / (c_mm * (1000 * s_m - focal_mm))
    return f_number if f_number >= c.F_NUMBER_RANGE[0] else c.F_NUMBER_RANGE[0]

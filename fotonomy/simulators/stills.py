"""Stills of the stand-in camera: the frame a setup would record, as a JPEG with EXIF."""

from dataclasses import replace
from datetime import datetime
from io import BytesIO

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from PIL.TiffImagePlugin import IFDRational

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.photometry.exposure_value import Ev100, ev100_of
from fotonomy.core.spec.setup import Setup
from fotonomy.simulators.monitor import signal_of

# Tags of EXIF 2.32 (CIPA DC-008).
_IFD = 0x8769
_TIME, _F, _ISO, _FOCAL, _TAKEN, _SUBSEC, _SERIAL = 33434, 33437, 34855, 37386, 36867, 37521, 42033


def still(setup: Setup, off_stops: float, taken: datetime, serial: str) -> bytes:
    """A still of the video of a setup whose light is so many stops over the planned, as a JPEG.

    Its numbers are the recorded levels: 255 is 100 %. ``taken`` is what the camera's clock said.
    """
    lit = replace(setup, light=Ev100(round(ev100_of(setup.light) + off_stops, 2)))
    signal = signal_of(analyse(lit))
    levels = np.clip(signal.percent[signal.codes] * 2.55, 0, 255).round().astype(np.uint8)
    return as_jpeg(np.repeat(levels[:, :, None], 3, axis=2), setup, taken, serial, 90)


def as_jpeg(
    picture: NDArray[np.uint8], setup: Setup, taken: datetime, serial: str, quality: int,
    time_stops: float = 0.0,
) -> bytes:  # fmt: skip
    """A picture as this camera writes it: a JPEG with what was set and what its clock said.

    It was open ``time_stops`` longer than the setup says.
    """
    still = Image.fromarray(picture)
    tags = still.getexif()
    micros = taken.microsecond // 1000
    tags.get_ifd(_IFD).update({
        _TIME: IFDRational(round(setup.time_s * 2.0**time_stops * 1_000_000), 1_000_000),
        _F: IFDRational(round(setup.iris * 10), 10), _ISO: setup.iso,
        _FOCAL: IFDRational(round(setup.focal_mm * 10), 10),
        _TAKEN: f"{taken:%Y:%m:%d %H:%M:%S}", _SUBSEC: f"{micros:03}",
    })  # fmt: skip
    if serial:
        tags.get_ifd(_IFD)[_SERIAL] = serial
    out = BytesIO()
    still.save(out, "JPEG", exif=tags, quality=quality)
    return out.getvalue()

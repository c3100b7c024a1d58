"""Stills of the stand-in camera: the frame a setup would record, as a JPEG with EXIF."""

from dataclasses import replace
from datetime import datetime
from io import BytesIO

import numpy as np
from PIL import Image
from PIL.TiffImagePlugin import IFDRational

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.photometry.exposure_value import Ev100, ev100_of
from fotonomy.core.spec.setup import Setup
from fotonomy.standins.monitor import signal_of

# Tags of EXIF 2.32 (CIPA DC-008).
_IFD = 0x8769
_TIME, _F, _ISO, _FOCAL, _TAKEN, _SERIAL = 33434, 33437, 34855, 37386, 36867, 42033


def still(setup: Setup, off_stops: float, taken: datetime, serial: str) -> bytes:
    """A still of the video of a setup whose light is so many stops over the planned, as a JPEG.

    Its numbers are the recorded levels: 255 is 100 %. ``taken`` is what the camera's clock said.
    """
    lit = replace(setup, light=Ev100(round(ev100_of(setup.light) + off_stops, 2)))
    signal = signal_of(analyse(lit))
    levels = np.clip(signal.percent[signal.codes] * 2.55, 0, 255).round().astype(np.uint8)
    picture = Image.fromarray(np.repeat(levels[:, :, None], 3, axis=2))
    tags = picture.getexif()
    tags.get_ifd(_IFD).update({
        _TIME: IFDRational(round(setup.time_s * 1_000_000), 1_000_000),
        _F: IFDRational(round(setup.iris * 10), 10), _ISO: setup.iso,
        _FOCAL: IFDRational(round(setup.focal_mm * 10), 10),
        _TAKEN: f"{taken:%Y:%m:%d %H:%M:%S}", _SERIAL: serial,
    })  # fmt: skip
    out = BytesIO()
    picture.save(out, "JPEG", exif=tags, quality=90)
    return out.getvalue()

"""Films of the stand-in camera: tiny ones, with the head that real ones have.

Made by PyAV where it is installed, which the program itself does not need.
"""

from datetime import UTC, datetime
from fractions import Fraction
from io import BytesIO

import numpy as np

from fotonomy.core.motion.shutter import exact_rate


class NoFilmsError(RuntimeError):
    """PyAV is not installed: the stand-in camera takes no films."""


def film(taken: datetime, frames: int, fps: float, width: int = 320, height: int = 180) -> bytes:
    """So many frames as a QuickTime file that begins at a moment. Raises NoFilmsError."""
    try:
        import av
    except ImportError as error:
        raise NoFilmsError("PyAV is not installed") from error
    out = BytesIO()
    with av.open(out, "w", format="mov") as made:
        made.metadata["creation_time"] = taken.astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%S.000000Z")
        stream = made.add_stream("mjpeg", rate=Fraction(exact_rate(fps)))
        stream.width, stream.height, stream.pix_fmt = width, height, "yuvj420p"
        for number in range(frames):
            shade = np.full((height, width, 3), 60 + number % 120, dtype=np.uint8)
            for packet in stream.encode(av.VideoFrame.from_ndarray(shade, format="rgb24")):
                made.mux(packet)
        for packet in stream.encode():
            made.mux(packet)
    return out.getvalue()

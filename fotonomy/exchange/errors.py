"""What a refused file says."""

import struct
import zipfile
import zlib

# All that the library raises for a zip that is damaged, or packed in a way it does not know.
DAMAGED_ZIP = (
    zipfile.BadZipFile, zlib.error, struct.error, EOFError, OSError, ValueError, RuntimeError,
    NotImplementedError, MemoryError,
)  # fmt: skip


class ExchangeError(ValueError):
    """A file is damaged or foreign. ``place`` says where, ``problem`` what is wrong there."""

    def __init__(self, place: str, problem: str) -> None:
        super().__init__(f"{place}: {problem}")
        self.place = place
        self.problem = problem

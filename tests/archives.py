"""Archives of a person with one file in them changed."""

import json
import zipfile
from collections.abc import Callable
from io import BytesIO
from typing import Any


def with_changed(raw: bytes, file: str, change: Callable[[dict[str, Any]], None]) -> bytes:
    """An archive whose JSON file of this name was changed."""
    made = BytesIO()
    with zipfile.ZipFile(BytesIO(raw)) as old, zipfile.ZipFile(made, "w") as new:
        for name in old.namelist():
            data = old.read(name)
            if name == file:
                given = json.loads(data)
                change(given)
                data = json.dumps(given).encode()
            new.writestr(name, data)
    return made.getvalue()

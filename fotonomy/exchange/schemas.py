"""The schemas that ship with the program, and the one place where a file is held to them."""

import json
from datetime import datetime
from functools import cache
from importlib.resources import files
from typing import Any

from jsonschema import Draft202012Validator
from jsonschema.exceptions import best_match

from fotonomy.core.notation.texts import unkeepable
from fotonomy.exchange.errors import ExchangeError

# Larger than any setup or kit can honestly be.
LARGEST_FILE_BYTES = 4 * 1_048_576


def _schema(name: str) -> Any:
    return json.loads(files("fotonomy.exchange").joinpath(f"{name}.schema.json").read_text("utf-8"))


@cache
def _validator(name: str) -> Draft202012Validator:
    return Draft202012Validator(_schema(name))


def _refuse_constant(name: str) -> float:
    raise ExchangeError("the file", f"{name} is not a number JSON knows")


def read_json(raw: bytes, most: int = LARGEST_FILE_BYTES) -> Any:
    """A file's bytes as JSON data. Raises ExchangeError with the place of the fault."""
    if len(raw) > most:
        raise ExchangeError("the file", f"is larger than {most // 1024} kB")
    try:
        data = json.loads(raw.decode("utf-8-sig"), parse_constant=_refuse_constant)
        check_texts(data)
        return data
    except UnicodeDecodeError as error:
        raise ExchangeError(f"byte {error.start}", "is not UTF-8 text") from error
    except json.JSONDecodeError as error:
        place = f"line {error.lineno}, column {error.colno}"
        raise ExchangeError(place, f"not JSON: {error.msg}") from error
    except (RecursionError, ValueError) as error:
        if isinstance(error, ExchangeError):
            raise
        raise ExchangeError("the file", "is nested too deeply or holds an absurd number") from error


def check_texts(data: Any, place: str = "the file") -> None:
    """Refuse signs that cannot be kept in any text of JSON data, keys too. Raises ExchangeError."""
    left = [data]
    while left:
        one = left.pop()
        if isinstance(one, dict):
            left += [*one, *one.values()]
        elif isinstance(one, list):
            left += one
        elif isinstance(one, str) and (sign := unkeepable(one)):
            raise ExchangeError(place, f"holds a sign that cannot be kept ({sign})")


def check(name: str, data: Any) -> None:
    """Hold data to a schema. Raises ExchangeError with the JSON path of the worst fault."""
    try:
        fault = best_match(_validator(name).iter_errors(data))
    except (RecursionError, OverflowError) as error:
        raise ExchangeError("the file", "is nested too deeply or holds an absurd number") from error
    if fault is not None:
        raise ExchangeError(fault.json_path, _shorten(fault.message))


def _shorten(message: str, most: int = 200) -> str:
    return message if len(message) <= most else f"{message[: most - 1]}…"


def moment_of(text: str, place: str) -> datetime:
    """A moment with its offset. Raises ExchangeError at ``place`` for anything else."""
    try:
        found = datetime.fromisoformat(text)
    except ValueError:
        found = None
    if found is None or found.tzinfo is None:
        raise ExchangeError(place, "is no moment with its zone, such as 2027-06-05T15:20:00+10:00")
    return found


def write_json(data: Any) -> str:
    """JSON as people read it; never NaN."""
    return json.dumps(data, indent=2, ensure_ascii=False, allow_nan=False) + "\n"

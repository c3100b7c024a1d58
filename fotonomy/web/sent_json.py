"""JSON that a script sends as the body of a request."""

import json
from typing import Any

from django.http import HttpRequest
from django.http.request import RawPostDataException


def sent_json(request: HttpRequest, most_bytes: int) -> Any:
    """The body of a request as JSON data; None where it is no JSON, or larger than it may be."""
    try:
        body = request.body
        return json.loads(body) if len(body) <= most_bytes else None
    except (ValueError, RecursionError, RawPostDataException):
        # A form with files is read as such, and its body is gone.
        return None

"""The door for a WSGI server."""

import os
from collections.abc import Iterable
from typing import Any

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fotonomy.site.settings.production")
_answer = get_wsgi_application()


def application(environ: dict[str, Any], start_response: Any) -> Iterable[bytes]:
    """The program; HEAD is answered without a body, which the line would take for the next answer.

    Servers leave that to the application, and Django leaves it to the server.
    """
    said: Iterable[bytes] = _answer(environ, start_response)
    if environ["REQUEST_METHOD"] != "HEAD":
        return said
    close = getattr(said, "close", None)
    if close is not None:
        close()
    return []

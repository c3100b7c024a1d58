"""The name of the request under way, in every line of the log."""

import logging
from contextvars import ContextVar

present_id: ContextVar[str] = ContextVar("request_id", default="")


class WithRequestId(logging.Filter):
    """Puts the name of the request under way into every line of the log."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Always lets the line through."""
        record.request_id = present_id.get()
        return True

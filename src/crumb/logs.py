"""Logs: one JSON object a line, with ids of requests and jobs, never a name or a secret."""

import json
import logging
import sys
import traceback
from contextvars import ContextVar
from datetime import UTC, datetime

request_id: ContextVar[str] = ContextVar("request_id", default="")
"""The request that is being answered."""

_PLAIN = frozenset(vars(logging.makeLogRecord({}))) | {"message", "asctime", "taskName"}


class JsonLines(logging.Formatter):
    """A record as one line of JSON.

    Of an error only its kind and the places in the code are told: its words may hold what somebody
    typed.
    """

    def format(self, record: logging.LogRecord) -> str:
        """The line."""
        told: dict[str, object] = {
            "at": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname.lower(),
            "logger": record.name,
            "say": record.getMessage() if record.name.startswith("crumb") else record.msg,
        }
        if request_id.get():
            told["request"] = request_id.get()
        told |= {k: v for k, v in vars(record).items() if k not in _PLAIN}
        if record.exc_info and record.exc_info[1] is not None:
            error = record.exc_info[1]
            told["error"] = type(error).__qualname__
            told["where"] = [
                f"{frame.filename.rpartition('/')[2]}:{frame.lineno} {frame.name}"
                for frame in traceback.extract_tb(error.__traceback__)[-12:]
            ]
        return json.dumps(told, ensure_ascii=False, default=str)


def set_up_logs(level: str = "INFO") -> None:
    """Have everything logged as JSON lines on standard error."""
    handler = logging.StreamHandler(sys.stderr)
    handler.setFormatter(JsonLines())
    root = logging.getLogger()
    root.handlers = [handler]
    root.setLevel(logging.WARNING)
    logging.getLogger("crumb").setLevel(level)
    for name in ("uvicorn", "uvicorn.error", "uvicorn.access"):
        logger = logging.getLogger(name)
        logger.handlers, logger.propagate = [], True
    logging.getLogger("uvicorn.access").disabled = True  # requests are logged with their ids

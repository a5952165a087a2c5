"""From typed errors to HTTP answers, in one place."""

from __future__ import annotations

import logging
from typing import Any

import psycopg
import sqlalchemy.exc
from flask import Flask, Response, jsonify
from pydantic import ValidationError
from werkzeug.exceptions import HTTPException

from ..core.errors import Cancelled, InvalidDocument, RhytonicError, StepError, TakesLong, UnknownName
from ..store.errors import ChangedElsewhere, NothingToUndo, NotThere, Stale
from .schemas import Fault

log = logging.getLogger("rhytonic")


MOST_PROBLEMS = 50
#: PostgreSQL's words (appendix A of its manual) for having waited too long: for a lock, for a statement, for each other
BUSY = frozenset({"55P03", "57014", "40P01", "40001"})
#: for a value that cannot be kept: text with NUL, a number out of range
UNSTORABLE = frozenset({"22P05", "22021", "22003", "22P02", "22001"})


def _answer(fault: Fault, status: int) -> tuple[Response, int]:
    return jsonify(fault.model_dump(exclude_none=True)), status


def status_of(error: RhytonicError) -> int:
    """The HTTP status of a refusal."""
    if isinstance(error, NotThere | UnknownName):
        return 404
    if isinstance(error, Stale | ChangedElsewhere | NothingToUndo | Cancelled):
        return 409
    return 422


def fault_of(error: RhytonicError) -> Fault:
    """A refusal as the API tells it."""
    fault = Fault(code=error.code, message=str(error))
    if isinstance(error, StepError):
        fault.part, fault.step, fault.parameter = error.part, error.step, error.parameter
        fault.said = _said(error.message, error.parameter)
    if isinstance(error, TakesLong):  # a question to a person who sees what it is about
        fault.message = fault.said = f"It {error.message}"
    if isinstance(error, InvalidDocument):
        first = error.problems[0]
        fault.part, fault.step, fault.parameter = first.part, first.step, first.parameter
        fault.said = _said(first.message, first.parameter)
        if len(error.problems) > 1:
            fault.problems = [p.sentence() for p in error.problems[:MOST_PROBLEMS]]
            fault.more = max(len(error.problems) - MOST_PROBLEMS, 0)
    if isinstance(error, Stale):
        fault.revision = error.revision
    return fault


def _said(message: str, parameter: str | None) -> str:
    """A sentence for whoever has the step before them; one about a number begins with its name."""
    return f"{parameter.replace('_', ' ')} {message}" if parameter and message.startswith("must ") else message


def refused_body(error: ValidationError) -> Any:
    """The answer to a request that does not fit the API's own schema."""
    response, status = _answer(*sentence_of(error))
    response.status_code = status
    return response


#: how the database says that it is not there
DATABASE_GONE = (sqlalchemy.exc.OperationalError, sqlalchemy.exc.InterfaceError, sqlalchemy.exc.TimeoutError,
                 psycopg.OperationalError)


def sentence_of(error: Exception) -> tuple[Fault, int]:
    """What a person is told of an error, and the status it goes out with. What nobody foresaw is logged."""
    match error:
        case RhytonicError():
            return fault_of(error), status_of(error)
        case ValidationError():
            first = error.errors()[0]
            place = ".".join(str(p) for p in first["loc"])
            return Fault(code="bad_request", message=f"{place}: {first['msg']}" if place else first["msg"]), 422
        case HTTPException():
            code = error.name.lower().replace(" ", "_")
            return Fault(code=code, message=error.description or error.name), error.code or 500
        case RecursionError():
            return Fault(code="bad_request", message="the request is nested too deep"), 400
    state = _sqlstate(error)
    if state in BUSY:
        return Fault(code="busy", message="the build is busy with another change; yours is kept and sent again"), 503
    if state in UNSTORABLE:
        return Fault(code="bad_request", message="the request holds text or numbers that cannot be kept"), 422
    if isinstance(error, DATABASE_GONE):
        log.warning("database: %s", error)
        return Fault(code="database_gone", message="the database cannot be reached; your change is kept and sent again"), 503
    log.error("unforeseen", exc_info=error)
    return Fault(code="fault", message="something went wrong inside Rhytonic; nothing was stored"), 500


def _sqlstate(error: Exception) -> str | None:
    """What PostgreSQL calls an error."""
    cause = error.orig if isinstance(error, sqlalchemy.exc.DBAPIError) else error
    return cause.sqlstate if isinstance(cause, psycopg.Error) else None


def register(app: Flask) -> None:
    """Answer every error with a :class:`Fault`."""

    @app.errorhandler(Exception)
    def _refused(error: Exception) -> tuple[Response, int]:
        return _answer(*sentence_of(error))

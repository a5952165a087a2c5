"""From typed errors to HTTP answers, in one place."""

from __future__ import annotations

import logging
from typing import Any

import psycopg
import sqlalchemy.exc
from flask import Flask, Response, jsonify
from pydantic import ValidationError
from werkzeug.exceptions import HTTPException

from ..core.errors import InvalidDocument, RhytonicError, StepError, UnknownName
from ..store.errors import NothingToUndo, NotThere, Stale
from .schemas import Fault

log = logging.getLogger("rhytonic")


def _answer(fault: Fault, status: int) -> tuple[Response, int]:
    return jsonify(fault.model_dump(exclude_none=True)), status


def status_of(error: RhytonicError) -> int:
    if isinstance(error, NotThere | UnknownName):
        return 404
    if isinstance(error, Stale | NothingToUndo):
        return 409
    return 422


def fault_of(error: RhytonicError) -> Fault:
    fault = Fault(code=error.code, message=str(error))
    if isinstance(error, StepError):
        fault.part, fault.step, fault.parameter = error.part, error.step, error.parameter
    if isinstance(error, InvalidDocument):
        first = error.problems[0]
        fault.part, fault.step, fault.parameter = first.part, first.step, first.parameter
    if isinstance(error, Stale):
        fault.revision = error.revision
    return fault


def refused_body(error: ValidationError) -> Any:
    """The answer to a request that does not fit the API's own schema."""
    first = error.errors()[0]
    place = ".".join(str(p) for p in first["loc"])
    response, status = _answer(Fault(code="bad_request", message=f"{place}: {first['msg']}" if place else first["msg"]), 422)
    response.status_code = status
    return response


def register(app: Flask) -> None:
    """Answer every error with a :class:`Fault`."""

    @app.errorhandler(RhytonicError)
    def _refused(error: RhytonicError) -> tuple[Response, int]:
        return _answer(fault_of(error), status_of(error))

    @app.errorhandler(sqlalchemy.exc.OperationalError)
    @app.errorhandler(sqlalchemy.exc.InterfaceError)
    @app.errorhandler(sqlalchemy.exc.TimeoutError)
    @app.errorhandler(psycopg.OperationalError)
    def _database_gone(error: Exception) -> tuple[Response, int]:
        log.warning("database: %s", error)
        return _answer(Fault(code="database_gone", message="the database cannot be reached; "
                                                           "your change is kept and sent again"), 503)

    @app.errorhandler(RecursionError)
    def _too_deep(error: RecursionError) -> tuple[Response, int]:
        return _answer(Fault(code="bad_request", message="the request is nested too deep"), 400)

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> tuple[Response, int]:
        return _answer(Fault(code=error.name.lower().replace(" ", "_"), message=error.description or error.name),
                       error.code or 500)

    @app.errorhandler(Exception)
    def _unforeseen(error: Exception) -> tuple[Response, int]:
        log.exception("unforeseen")
        return _answer(Fault(code="fault", message="something went wrong inside Rhytonic; nothing was stored"), 500)

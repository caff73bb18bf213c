"""Every error as RFC 9457 problem details, with a sentence for each field."""

from __future__ import annotations

import logging
from typing import Any

from apiflask import APIFlask, HTTPError
from flask import Response, json
from pydantic import ValidationError
from werkzeug.exceptions import HTTPException

from kiteloom.core.base.problems import Refused
from kiteloom.store.unit_of_work import Missing, Stale

log = logging.getLogger(__name__)

TITLES = {
    404: "Not there",
    409: "Changed by somebody else",
    413: "Too large",
    422: "Can't be used as it is",
    500: "Something broke here",
}


def problem(status: int, detail: str, **more: Any) -> Response:
    """One problem, as a response."""
    body = {"type": "about:blank", "title": TITLES.get(status, "Not done"), "status": status, "detail": detail, **more}
    return Response(json.dumps(body), status, content_type="application/problem+json")


def register(app: APIFlask) -> None:
    """Answer every error of the app this way."""

    @app.errorhandler(Refused)
    def refused(error: Refused) -> Response:
        named = (
            f"{error.field}: {error.sentence}" if error.field and error.field not in error.sentence else error.sentence
        )
        every = getattr(error, "all", (error,))
        return problem(422, named, errors=[{"field": one.field, "sentence": one.sentence} for one in every])

    @app.errorhandler(Stale)
    def stale(error: Stale) -> Response:
        detail = "Somebody else has changed this since you opened it; nothing of yours was saved yet."
        return problem(409, detail, version=error.version, changed=error.words)

    @app.errorhandler(Missing)
    def missing(error: Missing) -> Response:
        return problem(404, str(error))

    @app.errorhandler(HTTPException)
    def http(error: HTTPException) -> Response:
        return problem(error.code or 500, error.description or "Not done.")

    @app.errorhandler(Exception)
    def broken(error: Exception) -> Response:
        log.exception("unexpected", exc_info=error)
        return problem(500, "This was not expected. Nothing was saved; the log of the program says more.")

    @app.error_processor
    def processed(error: HTTPError) -> Any:
        cause = error.__cause__
        if isinstance(cause, ValidationError):
            errors = [_sentence(item) for item in cause.errors()]
            return problem(422, "; ".join(item["sentence"] for item in errors), errors=errors)
        if error.status_code == 400:
            return problem(422, "The request's body isn't JSON that can be read.")
        return problem(error.status_code, error.message or "Not done.")


def _sentence(item: Any) -> dict[str, str]:
    """What Pydantic found, as a field and a sentence with the value in it."""
    field = ".".join(str(part) for part in item["loc"])
    if item["type"] == "missing":
        return {"field": field, "sentence": f"{field} is missing"}
    value = repr(item["input"])
    short = value if len(value) <= 60 else f"{value[:57]}…"
    return {"field": field, "sentence": f"{field} is {short}: {item['msg'][0].lower()}{item['msg'][1:]}"}

"""Every error as RFC 9457 problem details, with a sentence for each field."""

from __future__ import annotations

import errno
import logging
from typing import Any

from apiflask import APIFlask, HTTPError
from flask import Response, json
from pydantic import ValidationError
from sqlalchemy.exc import DatabaseError
from werkzeug.exceptions import HTTPException

from kiteloom.core.base.problems import Refused
from kiteloom.store.unit_of_work import Busy, Missing, Stale, Used

#: So many things that are wrong with one request are said.
MOST_ERRORS = 20

log = logging.getLogger(__name__)

TITLES = {
    401: "Not signed in",
    403: "Not allowed",
    404: "Not there",
    409: "Changed by somebody else",
    413: "Too large",
    415: "Not of the kind that is wanted",
    421: "Not this shop",
    422: "Can't be used as it is",
    429: "Too soon",
    500: "Something broke here",
    503: "Busy",
    507: "No room left",
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

    @app.errorhandler(Used)
    def used(_: Used) -> Response:
        return problem(409, "This id was used for something else already; nothing was saved. Send it under a new one.")

    @app.errorhandler(Busy)
    def busy(_: Busy) -> Response:
        return waiting("Others are writing just now; nothing of yours was saved yet. Try again in a moment.")

    @app.errorhandler(DatabaseError)
    def file_against(error: DatabaseError) -> Response:
        return of_the_file(error, str(error.orig))

    @app.errorhandler(OSError)
    def disk_against(error: OSError) -> Response:
        return of_the_file(error, "full" if error.errno in (errno.ENOSPC, errno.EDQUOT, errno.EFBIG) else str(error))

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
            errors = [_sentence(item) for item in cause.errors(include_url=False)[:MOST_ERRORS]]
            return problem(422, "; ".join(item["sentence"] for item in errors), errors=errors)
        if error.status_code == 400:
            return problem(422, "The request's body isn't JSON that can be read.")
        return problem(error.status_code, error.message or "Not done.")


def waiting(detail: str) -> Response:
    """That something can't be done now, and when to try again."""
    response = problem(503, detail)
    response.headers["Retry-After"] = "3"
    return response


def of_the_file(error: Exception, said: str) -> Response:
    """What the file of the shop is against, in a sentence."""
    if "locked" in said:
        return waiting("The shop's file is in use by another program; nothing of yours was saved yet. Try again.")
    if "full" in said:
        return problem(507, "The disk is full: nothing of this was saved. Make room; what was saved before is safe.")
    if "readonly" in said or "read-only" in said or "unable to open" in said:
        return problem(503, "The shop's file can't be written: nothing was saved. See to the folder it lies in.")
    log.exception("the file", exc_info=error)
    if "malformed" in said or "not a database" in said:
        return problem(500, "The shop's file is damaged: stop the program, and restore the newest backup.")
    return problem(500, "This was not expected. Nothing was saved; the log of the program says more.")


#: What Pydantic could not read as a number, in the words of who types it.
_NUMBERS = {
    "int_parsing": ("a whole number", "3"),
    "int_from_float": ("a whole number", "3"),
    "float_parsing": ("a number", "2.5"),
}


def _sentence(item: Any) -> dict[str, str]:
    """What Pydantic found, as a field and a sentence with the value in it."""
    field = ".".join(str(part) for part in item["loc"])
    if item["type"] == "missing":
        return {"field": field, "sentence": f"{field} is missing"}
    value = item["input"]
    if item["type"] in _NUMBERS and isinstance(value, (str, float)):
        wanted, like = _NUMBERS[item["type"]]
        typed = str(value).strip()[:40]
        said = f"“{typed}” isn’t {wanted}; write it like {like}" if typed else f"nothing was typed; {wanted} is wanted"
        return {"field": field, "sentence": f"{field}: {said}"}
    if isinstance(value, (dict, list)):  # said whole it could be megabytes
        short = "a list" if isinstance(value, list) else "an object"
    else:
        value = repr(value[:80] if isinstance(value, (str, bytes)) else value)
        short = value if len(value) <= 60 else f"{value[:57]}…"
    return {"field": field, "sentence": f"{field} is {short}: {item['msg'][0].lower()}{item['msg'][1:]}"}

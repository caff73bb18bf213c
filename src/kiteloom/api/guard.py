"""What every request must be before any route sees it: asked of this shop, from its own pages, and of sane size.

A shop is served on a local address without a sign-in, so any page in any browser near it could write into
it, or have its name resolved to that address and read it. See docs/security.md.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterator
from typing import Any

from apiflask import APIFlask
from flask import Response, current_app, request
from werkzeug.exceptions import HTTPException

from kiteloom.api.problems import problem

#: A body may have so many bytes, unless its route takes more.
LARGEST_BODY = 1024 * 1024
#: A photograph may have so many, of whatever it is.
LARGEST_SHOT = 13 * 1024 * 1024
#: Files of a logger, sheets, and lists to calculate with.
LARGER = {
    "/api/v1/climate/": 64 * 1024 * 1024,
    "/api/v1/shelf/import": 8 * 1024 * 1024,
    "/api/v1/calc/": 16 * 1024 * 1024,
    "/api/v1/shapes/": 16 * 1024 * 1024,
    "/api/v1/airframes/": 16 * 1024 * 1024,
}
#: Where a text may be a whole file.
FILES = ("/api/v1/climate/", "/api/v1/shelf/import", "/api/v1/calc/", "/api/v1/shapes/", "/api/v1/airframes/")
#: So long may a text be, unless it is a file's.
LONGEST_TEXT = 10_000
#: So deep may lists lie in lists, and so many values may a body have.
DEEPEST, MOST_VALUES = 24, 400_000
#: What a page of the shop's own may name what it makes.
OWN_ID = re.compile(r"[A-Za-z0-9 ._-]{1,64}")
#: The largest whole number that is kept.
MOST = 2**63 - 1
_READS = ("GET", "HEAD", "OPTIONS")


def register(app: APIFlask) -> None:
    """Look at every request of the app."""

    @app.before_request
    def looked_at() -> Response | None:
        if not _known_host():
            return problem(421, "This shop is not served under that name; start it with --host and the name.")
        most = request.max_content_length = _most_bytes()
        if (request.content_length or 0) > most:
            size = f"{(request.content_length or 0) / 1e6:.1f} MB"
            return problem(413, f"What was sent has {size}; at most {most / 1e6:.1f} MB are taken here.")
        for value in (request.view_args or {}).values():
            if isinstance(value, int) and value > MOST:
                return problem(404, f"There is no {str(value)[:30]}….")
        if request.method in _READS:
            return None
        return _from_elsewhere() or _body_against()


def _known_host() -> bool:
    """Whether it was asked of a name this shop is served under."""
    host = request.environ.get("HTTP_HOST", "")
    name = host.rpartition(":")[0] if re.search(r":\d+$", host) else host
    return name.lower() in current_app.config["HOSTS"]


def _from_elsewhere() -> Response | None:
    """The refusal of a change that another page asks for."""
    origin, site = request.headers.get("Origin"), request.headers.get("Sec-Fetch-Site")
    if origin is not None and origin != f"{request.scheme}://{request.host}":
        return problem(403, "Another site asked for this; only the shop's own pages may change anything.")
    if site not in (None, "same-origin", "none"):
        return problem(403, "Another page asked for this; only the shop's own pages may change anything.")
    kind = request.mimetype
    photo = _is_photo()
    if photo and (kind.startswith(("image/", "audio/", "video/")) or kind == "application/octet-stream"):
        return None
    if kind != "application/json":
        said = f"“{kind[:60]}”" if kind else "nothing"
        wanted = "an image" if photo else "application/json"
        return problem(415, f"The content type is {said}; {wanted} is wanted.")
    return None


def _is_photo() -> bool:
    return request.method == "PUT" and "/photos/" in request.path


def _most_bytes() -> int:
    if _is_photo():
        return LARGEST_SHOT
    return next((most for path, most in LARGER.items() if request.path.startswith(path)), LARGEST_BODY)


def _body_against() -> Response | None:
    """The refusal of a body that is too deep, too wide or holds what can't be kept."""
    if request.mimetype != "application/json":
        return None
    raw = request.get_data()
    if not raw:
        return None
    try:
        body = request.get_json(force=True)
    except RecursionError:
        return _refused("body", f"the body's lists lie too deep in one another; at most {DEEPEST} deep are read")
    except HTTPException:
        return None  # the route's own refusal says it
    except ValueError as error:
        return _refused("body", f"the body can't be read: {str(error)[:80]}")
    calculates = request.path.startswith("/api/v1/calc/")
    longest = None if request.path.startswith(FILES) else LONGEST_TEXT
    for count, (path, value, depth) in enumerate(_values(body)):
        where = ".".join(map(str, path[-3:]))[:80] or "body"
        if depth > DEEPEST:
            return _refused("body", f"the body's lists lie too deep in one another; at most {DEEPEST} deep are read")
        if count > MOST_VALUES:
            return _refused("body", f"the body has more than {MOST_VALUES} values; send fewer")
        against = _value_against(where, value, longest)
        own_id = not calculates and bool(path) and path[-1] == "id" and isinstance(value, str)
        if against is None and own_id and value and not OWN_ID.fullmatch(value):
            against = f"{where} is “{value[:40]}”; an id has 1 to 64 letters, figures, spaces, dots and dashes"
        if against is not None:
            return _refused(where, against)
    return None


def _value_against(where: str, value: Any, longest: int | None) -> str | None:
    if isinstance(value, str):
        if longest is not None and len(value) > longest:
            return f"{where} has {len(value)} letters; at most {longest} are read"
        if not value.isascii() and any("\ud800" <= letter <= "\udfff" for letter in value):
            return f"{where} holds half a letter that can't be written; type it again"
        if "\x00" in value:
            return f"{where} holds a letter that can't be written; type it again"
    if isinstance(value, int) and not isinstance(value, bool) and abs(value) > MOST:
        return f"{where} is a whole number of {int(math.log10(abs(value))) + 1} figures; at most 18 are read"
    return None


def _values(body: Any) -> Iterator[tuple[tuple[Any, ...], Any, int]]:
    """Every value of a body with where it stands and how deep, without recursion; keys too."""
    trail: list[tuple[tuple[Any, ...], Any, int]] = [((), body, 0)]
    while trail:
        path, value, depth = trail.pop()
        yield path, value, depth
        if depth > DEEPEST:
            continue
        if isinstance(value, dict):
            for key, inner in value.items():
                yield path, key, depth
                trail.append(((*path, key), inner, depth + 1))
        elif isinstance(value, list):
            trail += [((*path, i), inner, depth + 1) for i, inner in enumerate(value)]


def _refused(field: str, sentence: str) -> Response:
    return problem(422, sentence, errors=[{"field": field, "sentence": sentence}])

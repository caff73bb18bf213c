"""Who asks: what each may do stands here once. See docs/security.md.

In a shop where nobody has a PIN, on this machine only, everybody may do everything.
"""

from __future__ import annotations

from apiflask import APIFlask
from flask import Response, current_app, g, request

from kiteloom.api.house import now, open_store
from kiteloom.api.problems import problem
from kiteloom.workshop.base.pins import NotLetIn
from kiteloom.workshop.base.sign_in import LOOKING, NotYours, Present, needed, present, used

#: Asked before anybody is signed in.
OPEN = frozenset({"sign_in.read_sign_in", "sign_in.come_in", "sign_in.come_by_link", "sign_in.go_out", "base.formats"})
#: A lead's: who works here, what each may do, the shop itself, and all of it in one file.
LEADS = frozenset(
    {
        *("plan.save_person", "plan.farewell", "base.change_shop", "logbook.download"),
        *("sign_in.take_pin", "sign_in.give_role", "sign_in.invite", "sign_in.end_link"),
    }
)
#: What is sent only to be worked out, and keeps nothing.
LOOKS = frozenset(
    {
        *("air.find_shots", "build.look_at_a_job", "buying.look_at_arrival", "buying.compare", "buying.pitches"),
        *("cure.what_if", "cure.try_post_cure", "joints.look_for_hole", "laminate.look_at_plies", "mix.cup"),
        *("mix.pour", "mix.split", "mix.air_limits", "mix.thicken", "need.compare_coats", "shape.look"),
        *("stores.check",),
    }
)
#: An inspector signs that a closing was seen; the use case lets through nothing else.
INSPECTORS = frozenset({"gates.note_closing"})
_READS = ("GET", "HEAD", "OPTIONS")
CALCULATIONS = "/api/v1/calc/"


def register(app: APIFlask) -> None:
    """Ask who it is before any route sees it."""

    @app.before_request
    def let_in() -> Response | None:
        if not request.path.startswith("/api/v1/") or request.endpoint is None:
            return None
        store, at, kept = open_store(), now(), token()
        with store.reading() as uow:
            asked = needed(uow) or not current_app.config["HERE_ONLY"]
            g.present = present(uow, kept, at) if kept and asked else None
        if not asked:
            return None
        if g.present is None:
            free = request.endpoint in OPEN or (
                current_app.config["HERE_ONLY"] and request.path.startswith(CALCULATIONS)
            )
            return None if free else problem(401, "Sign in first: nothing of this was done.")
        against = _against(g.present)
        if against:
            return problem(403, against)
        if request.method not in _READS and request.endpoint not in OPEN:
            used(store, g.present, at)
        return None

    @app.errorhandler(NotYours)
    def not_yours(error: NotYours) -> Response:
        return problem(403, str(error), sign_in=error.person_id)

    @app.errorhandler(NotLetIn)
    def not_let_in(error: NotLetIn) -> Response:
        response = problem(429 if error.wait_s else 403, str(error), wait_s=error.wait_s)
        if error.wait_s:
            response.headers["Retry-After"] = str(error.wait_s)
        return response


def _against(who: Present) -> str:
    """Why somebody may not do what is asked; ``""`` where they may."""
    endpoint = str(request.endpoint)
    if endpoint in OPEN or who.leads:
        return ""
    if endpoint in LEADS:
        return f"That is a lead’s to do; {who.name} is {_a(who.role)} here."
    if who.builds or request.method in _READS or endpoint in LOOKS:
        return ""
    if request.path.startswith(CALCULATIONS) or (who.role == "inspector" and endpoint in INSPECTORS):
        return ""
    return f"{who.name} is {_a(who.role)} here, and changes nothing; nothing was saved."


def _a(role: str) -> str:
    return f"an {role}" if role[0] in "aeiou" else f"a {role}"


def there() -> Present | None:
    """Who is signed in at the tablet that asks."""
    found: Present | None = g.get("present")
    return found


def token() -> str:
    """What the tablet keeps; ``""`` for nothing."""
    return request.cookies.get(_name(), "")


def keeps(response: Response, kept: str) -> Response:
    """Let the tablet keep it, and no script read it; how long it lets anybody in is known here."""
    response.set_cookie(
        _name(), kept, max_age=LOOKING, httponly=True, samesite="Strict", secure=request.is_secure, path="/api/"
    )
    return response


def forgotten(response: Response) -> Response:
    """Let the tablet keep nothing."""
    response.delete_cookie(_name(), httponly=True, samesite="Strict", secure=request.is_secure, path="/api/")
    return response


def _name() -> str:
    """Two shops on one machine have two ports, and browsers keep cookies by name of the machine alone."""
    return f"shop-{request.host.rpartition(':')[2] if ':' in request.host else 'kiteloom'}"

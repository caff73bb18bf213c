"""The application: routes over the workshop, and the built pages."""

from __future__ import annotations

import logging
import mimetypes
from collections.abc import Sequence
from pathlib import Path

from apiflask import APIFlask
from flask import Response, request, send_file, send_from_directory
from werkzeug.security import safe_join

from kiteloom.api import (
    air,
    airframe,
    asking,
    base,
    better_order,
    build,
    buying,
    checks,
    cure,
    cut,
    gates,
    guard,
    heard,
    irons,
    joints,
    laminate,
    log,
    logbook,
    mix,
    need,
    plan,
    problems,
    shape,
    sign_in,
    stores,
    tanks,
    weight,
    who,
)
from kiteloom.api.calc import air as calc_air
from kiteloom.api.calc import buy as calc_buy
from kiteloom.api.calc import cover as calc_cover
from kiteloom.api.calc import cure as calc_cure
from kiteloom.api.calc import joint as calc_joint
from kiteloom.api.calc import laminate as calc_laminate
from kiteloom.api.calc import mix as calc_mix
from kiteloom.api.calc import plan as calc_plan
from kiteloom.api.calc import shape as calc_shape
from kiteloom.api.calc import weight as calc_weight
from kiteloom.store.unit_of_work import Store
from kiteloom.workshop.base.clock import Clock, SystemClock
from kiteloom.workshop.base.shop import furnish
from kiteloom.workshop.base.worker import Worker
from kiteloom.workshop.cut import layouts
from kiteloom.workshop.mix.scale import Scale
from kiteloom.workshop.plan import searches, studies

#: The built front end: beside the source in a checkout.
PAGES = Path(__file__).resolve().parents[3] / "web" / "dist"
POLICY = (
    "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; "
    "font-src 'self'; connect-src 'self'; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; "
    "form-action 'self'"
)
#: No built file has a longer name.
LONGEST_PATH = 200
#: One blueprint a family; and the calculation contract, by families too.
FAMILIES = (
    *(
        base,
        sign_in,
        airframe,
        shape,
        air,
        cure,
        mix,
        stores,
        better_order,
        asking,
        buying,
        laminate,
        need,
        build,
        joints,
        checks,
        gates,
        irons,
        tanks,
        cut,
        weight,
        log,
        logbook,
        plan,
    ),
    *(calc_mix, calc_cure, calc_shape, calc_laminate, calc_air, calc_plan, calc_weight, calc_joint, calc_cover),
    calc_buy,
)
#: The names it is always served under.
HERE = ("127.0.0.1", "localhost", "[::1]")


def _file(path: str) -> Response:
    """A built file, compressed where the build made it so; names in assets/ change with their content."""
    packed = (PAGES / f"{path}.gz").is_file() and "gzip" in request.headers.get("Accept-Encoding", "")
    kind = mimetypes.guess_type(path)[0]
    response = send_from_directory(PAGES, f"{path}.gz" if packed else path, mimetype=kind)
    if packed:
        response.headers["Content-Encoding"] = "gzip"
        response.headers["Vary"] = "Accept-Encoding"
    if path.startswith("assets/"):
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
    return response


def create_app(
    data_dir: str | Path,
    clock: Clock | None = None,
    scale: Scale | None = None,
    hosts: Sequence[str] = (),
    *,
    here_only: bool = True,
) -> APIFlask:
    """The Flask app on a data folder, which is made and migrated when empty.

    Parameters
    ----------
    data_dir : path
        Folder of the database.
    clock : Clock or None
        The shop's clock; the machine's when None.
    scale : Scale or None
        The scale on the mixing bench; weights are typed when None.
    hosts : sequence of str
        Other names it is served under than `HERE`; the first stands on labels.
    here_only : bool
        Whether it answers this machine only; else nobody is let in without signing in, also while nobody can.
    """
    app = application()
    app.config["HOSTS"] = frozenset((*HERE, *(name.lower() for name in hosts)))
    app.config["NAME"] = hosts[0] if hosts else ""
    app.config["HERE_ONLY"] = here_only
    open_on(app, data_dir, clock, scale)
    return app


def open_on(app: APIFlask, data_dir: str | Path, clock: Clock | None = None, scale: Scale | None = None) -> None:
    """Let an application answer from a data folder, which is made and migrated when empty."""
    store, used = Store(Path(data_dir)), clock or SystemClock()
    app.extensions["kiteloom.store"], app.extensions["kiteloom.clock"] = store, used
    app.extensions["kiteloom.scale"] = scale
    app.extensions["kiteloom.worker"] = Worker()
    with store.writing() as uow:
        furnish(uow, used.now())
        layouts.settle(uow)
        searches.settle(uow)
        studies.settle(uow)


def application() -> APIFlask:
    """The routes and the pages, on no data folder yet."""
    app = APIFlask(
        __name__,
        title="Kite Loom",
        version="1",
        spec_path="/api/v1/openapi.json",
        docs_path=None,
        static_folder=None,  # type: ignore[arg-type]
    )
    app.json.sort_keys = False  # type: ignore[attr-defined]
    app.config["MAX_CONTENT_LENGTH"] = guard.LARGEST_BODY
    app.config["HOSTS"] = frozenset(HERE)
    app.config["HERE_ONLY"] = True
    app.config["LOCAL_SPEC_JSON_INDENT"] = 1
    problems.register(app)
    guard.register(app)
    who.register(app)
    heard.register(app)
    for family in FAMILIES:
        app.register_blueprint(family.bp)

    @app.after_request
    def guarded(response: Response) -> Response:
        response.headers["Content-Security-Policy"] = POLICY
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "same-origin"
        response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
        return response

    @app.get("/shop-root.crt")
    @app.doc(hide=True)
    def root() -> Response:
        """What a device must be told to trust, where the shop is served by https."""
        kept = app.config.get("ROOT")
        if kept is None:
            return problems.problem(404, "This shop is not served by https.")
        return send_file(kept, "application/x-x509-ca-cert", download_name="kite-loom-shop.crt")

    @app.get("/", defaults={"path": ""})
    @app.get("/<path:path>")
    @app.doc(hide=True)
    def pages(path: str) -> Response:
        if path.startswith("api/"):
            return problems.problem(404, f"There is no /{path}.")
        inside = safe_join(str(PAGES), path) if path and len(path) < LONGEST_PATH else None
        if inside is not None and Path(inside).is_file():
            return _file(path)
        if not (PAGES / "index.html").is_file():
            return Response("The pages are not built yet: run make demo.", 503, content_type="text/plain")
        return send_from_directory(PAGES, "index.html", max_age=0)

    logging.getLogger("alembic").setLevel(logging.WARNING)
    return app

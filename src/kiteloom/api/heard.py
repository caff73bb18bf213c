"""A write's answer says what changed since its tablet heard last: it need not ask before it asks for its page again."""

from __future__ import annotations

import contextlib
import json

from apiflask import APIFlask
from flask import Response, request
from sqlalchemy.exc import DatabaseError

from kiteloom.api.house import now, store
from kiteloom.api.who import CALCULATIONS
from kiteloom.views.shop import what_changed

#: How far a tablet has heard, and what it is told.
HEARD, CHANGED = "Kite-Loom-Heard", "Kite-Loom-Changed"

#: Who missed more than so many changes asks for them.
MOST = 50


def register(app: APIFlask) -> None:
    """Tell who says how far it has heard."""

    @app.after_request
    def told(response: Response) -> Response:
        heard = request.headers.get(HEARD, "")
        writes = request.method not in ("GET", "HEAD", "OPTIONS") and not request.path.startswith(CALCULATIONS)
        if writes and response.status_code < 300 and heard.isdecimal() and len(heard) < 19:
            # What was kept is answered so, whatever becomes of this.
            with contextlib.suppress(DatabaseError), store().reading() as uow:
                said = what_changed(uow, int(heard), now())
                if len(said.changes) <= MOST:
                    news = {"now": said.now.isoformat(), "seq": said.seq, "touched": said.touched}
                    response.headers[CHANGED] = json.dumps(news)
        return response

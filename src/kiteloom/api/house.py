"""What every route needs: the store, the shop's time, and text as it was typed."""

from __future__ import annotations

from datetime import datetime
from typing import cast

from flask import current_app
from pydantic import BaseModel

from kiteloom.core.base.quantities import Typed
from kiteloom.store.unit_of_work import Store
from kiteloom.workshop.base.clock import Clock
from kiteloom.workshop.mix.scale import Scale


def store() -> Store:
    """The data folder of this application."""
    return cast(Store, current_app.extensions["kiteloom.store"])


def scale() -> Scale | None:
    """The scale on the bench, if the shop has one."""
    return cast("Scale | None", current_app.extensions["kiteloom.scale"])


def now() -> datetime:
    """The shop clock's moment."""
    return cast(Clock, current_app.extensions["kiteloom.clock"]).now()


class TypedIn(BaseModel):
    """What was typed, and the unit a bare number was meant in."""

    text: str
    unit: str

    def value(self) -> Typed:
        """As the core takes it."""
        return Typed(self.text, self.unit)

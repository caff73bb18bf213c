"""What every route needs: the store, the shop's time, and orders and views as they are in the house."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from functools import lru_cache, wraps
from typing import Any, TypeVar, cast, get_args

from apiflask import APIBlueprint
from flask import Response, current_app, g
from pydantic import BaseModel, RootModel

from kiteloom.store.unit_of_work import Store
from kiteloom.workshop.base.clock import Clock
from kiteloom.workshop.base.worker import Worker
from kiteloom.workshop.mix.scale import Scale

Route = TypeVar("Route", bound=Callable[..., Any])


def open_store() -> Store:
    """The data folder of this application, whoever asks."""
    return cast(Store, current_app.extensions["kiteloom.store"])


def store() -> Store:
    """The same, as who is signed in uses it: what is written says so."""
    found, there = open_store(), g.get("present")
    return found if there is None else found.of(there.who)


def scale() -> Scale | None:
    """The scale on the bench, if the shop has one."""
    return cast("Scale | None", current_app.extensions["kiteloom.scale"])


def worker() -> Worker:
    """The process apart for what takes long."""
    return cast(Worker, current_app.extensions["kiteloom.worker"])


def now() -> datetime:
    """The shop clock's moment."""
    return cast(Clock, current_app.extensions["kiteloom.clock"]).now()


def file(data: bytes | str, kind: str, name: str, *, save: bool = False) -> Response:
    """A file to look at, or to save."""
    how = "attachment" if save else "inline"
    return Response(data, content_type=kind, headers={"Content-Disposition": f"{how}; filename={name}"})


class Routes(APIBlueprint):
    """The routes of a family. What they take and give are the workshop's orders and the views' own dataclasses."""

    def __init__(self, family: str, tag: str, prefix: str = "") -> None:
        super().__init__(family, f"{__name__}.{family}", url_prefix=f"/api/v1{prefix}", tag=tag)

    def takes(self, kind: type) -> Callable[[Route], Route]:
        """The body is an order, given to the route as ``order``."""

        def decorated(route: Route) -> Route:
            @wraps(route)
            def unwrapped(*args: Any, order: Any, **more: Any) -> Any:
                return route(*args, order=order.root if isinstance(order, RootModel) else order, **more)

            return cast(Route, self.input(_schema(kind, "In"), arg_name="order")(unwrapped))

        return decorated

    def asks(self, kind: type[BaseModel]) -> Callable[[Route], Route]:
        """What stands in the query, given to the route as ``asked``."""
        return self.input(kind, location="query", arg_name="asked")

    def gives(self, kind: Any, status: int = 200) -> Callable[[Route], Route]:
        """The answer is a view."""
        return self.output(_schema(kind, "Out"), status_code=status)


@lru_cache
def _schema(kind: Any, end: str) -> type[BaseModel]:
    """A dataclass as Pydantic reads or writes it; a model as it is."""
    if isinstance(kind, type) and issubclass(kind, BaseModel):
        return kind
    name = next(each.__name__ for each in (kind, *get_args(kind)) if isinstance(each, type))
    return type(f"{name}{end}", (RootModel[kind],), {"__doc__": kind.__doc__, "__module__": __name__})

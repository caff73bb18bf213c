"""The shop as a whole: its time, settings, weather and temperatures. Thin."""

from __future__ import annotations

from typing import Any, Literal

from apiflask import APIBlueprint
from pydantic import BaseModel, RootModel

from kiteloom.api.house import now, store
from kiteloom.core.base.quantities import FORMATS, Format
from kiteloom.views import shop, strip
from kiteloom.workshop.base import shop as base_shop

bp = APIBlueprint("shop", __name__, url_prefix="/api/v1", tag="Shop")


class NowOut(RootModel[shop.Now]):
    """The shop's time, and changes."""


class ShopOut(RootModel[shop.ShopView]):
    """Settings."""


class WeatherOut(RootModel[strip.WeatherView]):
    """The strip on top."""


class SinceIn(BaseModel):
    """After which change; −1 lists nothing."""

    since: int = -1


class FormatsOut(BaseModel):
    """How each kind of figure is shown in each unit system."""

    kinds: dict[str, dict[Literal["metric", "us"], Format]]


@bp.get("/now")
@bp.input(SinceIn, location="query")
@bp.output(NowOut)
def tell_now(query_data: SinceIn) -> shop.Now:
    """The shop's time, and what changed after ``since`` (−1: nothing is listed)."""
    with store().reading() as uow:
        return shop.what_changed(uow, query_data.since, now())


@bp.get("/formats")
@bp.output(FormatsOut)
def formats() -> dict[str, Any]:
    """The one table by which figures are shown."""
    return {"kinds": {kind: table for kind, (_, table) in FORMATS.items()}}


@bp.get("/shop")
@bp.output(ShopOut)
def read_shop() -> shop.ShopView:
    """Settings."""
    with store().reading() as uow:
        return shop.shop_view(uow)


class DayIn(BaseModel):
    """Working hours of one weekday."""

    weekday: int
    opens: str
    closes: str


class ShopIn(BaseModel):
    """Settings to change."""

    version: int
    units: str | None = None
    zone: str | None = None
    hours: list[DayIn] | None = None


@bp.patch("/shop")
@bp.input(ShopIn)
@bp.output(ShopOut)
def edit_shop(json_data: ShopIn) -> shop.ShopView:
    """Change units, zone or hours."""
    hours = None if json_data.hours is None else [base_shop.DayHours(**day.model_dump()) for day in json_data.hours]
    with store().writing() as uow:
        base_shop.edit_shop(uow, json_data.version, now(), units=json_data.units, zone=json_data.zone, hours=hours)
    with store().reading() as uow:
        return shop.shop_view(uow)


@bp.get("/weather")
@bp.output(WeatherOut)
def read_weather() -> strip.WeatherView:
    """Temperature now and tonight, and what waits."""
    with store().reading() as uow:
        return strip.weather(uow, now())

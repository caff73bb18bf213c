"""The shop as a whole: its time, what changed, its settings. Thin."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from kiteloom.api.house import Routes, now, store
from kiteloom.core.base.quantities import FORMATS, OUNCES, Format
from kiteloom.views import shop
from kiteloom.workshop.base.shop import EditShop, PutOff, edit_shop, put_off

bp = Routes("base", "Shop")


class Since(BaseModel):
    """After which change; −1 lists nothing."""

    since: int = Field(-1, ge=-1, le=2**62)


class Formats(BaseModel):
    """How each kind of figure is shown in each unit system; ``ounces`` is what a scale shows that counts in them."""

    kinds: dict[str, dict[Literal["metric", "us"], Format]]
    ounces: Format


@bp.get("/now")
@bp.asks(Since)
@bp.gives(shop.Now)
def tell_now(asked: Since) -> shop.Now:
    """The shop's time, and what changed after ``since`` (−1: nothing is listed)."""
    with store().reading() as uow:
        return shop.what_changed(uow, asked.since, now())


@bp.get("/formats")
@bp.gives(Formats)
def formats() -> dict[str, Any]:
    """The one table by which figures are shown."""
    return {"kinds": {kind: table for kind, (_, table) in FORMATS.items()}, "ounces": OUNCES}


@bp.get("/shop")
@bp.gives(shop.ShopView)
def read_shop() -> shop.ShopView:
    """Settings."""
    with store().reading() as uow:
        return shop.shop_view(uow, now())


@bp.patch("/shop")
@bp.takes(EditShop)
@bp.gives(shop.ShopView)
def change_shop(order: EditShop) -> shop.ShopView:
    """Change units, zone or hours."""
    with store().writing() as uow:
        edit_shop(uow, order, now())
    with store().reading() as uow:
        return shop.shop_view(uow, now())


@bp.post("/shop/later")
@bp.takes(PutOff)
@bp.gives(shop.ShopView)
def later(order: PutOff) -> shop.ShopView:
    """Put a question of the first morning off."""
    with store().writing() as uow:
        put_off(uow, order, now())
    with store().reading() as uow:
        return shop.shop_view(uow, now())

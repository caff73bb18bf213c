"""The cheapest packs that cover what the shelf does not serve by its day, and when to order them."""

from __future__ import annotations

from datetime import date
from typing import Any

from pydantic import BaseModel, Field

from kiteloom.api.house import Routes
from kiteloom.core.base.problems import Refused
from kiteloom.core.need.buying import Held, Pack, Wanted, line_of

bp = Routes("calc_buy", "Calculations", "/calc")


class NeedIn(BaseModel):
    """So much of a product that is wanted on a day."""

    product: str
    amount: float
    wanted_on: date


class StockIn(BaseModel):
    """So much of a product that is there; good on the day it expires."""

    product: str
    amount: float
    expires_on: date | None = None


class PackIn(BaseModel):
    """A pack of a product."""

    product: str
    amount: float
    price: float
    lead_days: int = 0


class BuyIn(BaseModel):
    """What is wanted, what is there, what can be bought. Amounts of a product are all in one measure."""

    today: date
    needs: list[NeedIn] = Field(max_length=5000)
    stock: list[StockIn] = Field(max_length=5000)
    packs: list[PackIn] = Field(max_length=1000)


class PacksOut(BaseModel):
    """So many of a pack."""

    amount: float
    price: float
    count: int


class LineOut(BaseModel):
    """A product that is short."""

    product: str
    short: float
    packs: list[PacksOut]
    cost: float
    left_over: float
    order_by: date
    late_days: int


class BuyOut(BaseModel):
    """What to buy, in the order in which products are wanted in the request; one cost for all."""

    lines: list[LineOut]
    cost: float


@bp.post("/buy")
@bp.takes(BuyIn)
@bp.gives(BuyOut)
def buy(order: BuyIn) -> dict[str, Any]:
    """Find what to buy."""
    lines = []
    for product in dict.fromkeys(need.product for need in order.needs):
        wanted = [Wanted(need.amount, need.wanted_on) for need in order.needs if need.product == product]
        held = [Held(stock.amount, stock.expires_on) for stock in order.stock if stock.product == product]
        packs = [Pack(pack.amount, pack.price, pack.lead_days) for pack in order.packs if pack.product == product]
        try:
            line = line_of(order.today, wanted, held, packs)
        except Refused as refused:
            raise Refused(refused.field, f"{product[:60]}: {refused.sentence}") from None
        if line is None:
            continue
        counts = zip(packs, line.bought.counts, strict=True)
        lines.append(
            {
                "product": product,
                "short": line.short,
                "packs": [{"amount": p.amount, "price": p.price, "count": count} for p, count in counts if count],
                "cost": line.bought.cost,
                "left_over": line.bought.left_over,
                "order_by": line.order_by,
                "late_days": line.late_days,
            }
        )
    return {"lines": lines, "cost": sum(line["cost"] for line in lines)}

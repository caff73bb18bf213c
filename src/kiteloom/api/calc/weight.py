"""Weights at their places, and a control surface about its hinge."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, Field

from kiteloom.api.house import Routes
from kiteloom.core.base.problems import Refused
from kiteloom.core.weight.balance import Weight, balance_of, balance_weight, hinge_moment

bp = Routes("calc_weight", "Calculations", "/calc")


class ItemIn(BaseModel):
    """Something that weighs [g], and where it lies [mm]."""

    name: str
    grams: float
    x_mm: float
    y_mm: float = 0.0


class BalanceIn(BaseModel):
    """Where a balance weight would stand [mm], and the share of the hinge moment it takes away [%]."""

    x_mm: float
    wanted_pct: float = 100.0


class WeightsIn(BaseModel):
    """Weights, and the hinge they turn about."""

    items: list[ItemIn] = Field(max_length=5000)
    hinge_x_mm: float | None = None
    balance: BalanceIn | None = None


class WeightsOut(BaseModel):
    """Total, centre of gravity and moments; the balance weight is not counted in them."""

    grams: float
    x_mm: float
    y_mm: float
    moment_g_mm: float
    hinge_moment_g_mm: float | None
    balance_g: float | None


@bp.post("/weights")
@bp.takes(WeightsIn)
@bp.gives(WeightsOut)
def weights(order: WeightsIn) -> dict[str, Any]:
    """Weigh and balance."""
    found = balance_of([Weight(one.name, one.grams, one.x_mm, one.y_mm) for one in order.items])
    hinge, wanted = order.hinge_x_mm, order.balance
    if wanted is not None and hinge is None:
        raise Refused("hinge_x_mm", "a balance weight is asked for, and no hinge is given; hinge_x_mm is wanted")
    about = hinge_moment(found, hinge) if hinge is not None else None
    weight = balance_weight(found, hinge, wanted.x_mm, wanted.wanted_pct) if wanted and hinge is not None else None
    return {**vars(found), "hinge_moment_g_mm": about, "balance_g": weight}

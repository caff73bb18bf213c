"""Cures: what hardens, what if, post-cures. Thin."""

from __future__ import annotations

from kiteloom.api.house import Routes, now, store
from kiteloom.views.cure import cards, post_cure
from kiteloom.workshop.base.saved import OnlyId
from kiteloom.workshop.plan.post_cure import HeatingView, PostCureOrder, call_off, keep_post_cure

bp = Routes("cure", "Cures")


@bp.get("/cures")
@bp.gives(cards.CuresView)
def read_cures() -> cards.CuresView:
    """What cures, and what is mixed next."""
    with store().reading() as uow:
        return cards.cures_view(uow, now())


@bp.post("/cures/what-if")
@bp.takes(cards.WhatIf)
@bp.gives(cards.Tried)
def what_if(order: cards.WhatIf) -> cards.Tried:
    """Try another start of a mix still to come, or a heater; nothing is kept."""
    with store().reading() as uow:
        return cards.try_out(uow, order, now())


@bp.post("/cures/post-cure")
@bp.takes(PostCureOrder)
@bp.gives(post_cure.PostCureTried)
def try_post_cure(order: PostCureOrder) -> post_cure.PostCureTried:
    """Look at ramps and holds; nothing is kept."""
    with store().reading() as uow:
        return post_cure.try_post_cure(uow, order, now())


@bp.post("/post-cures")
@bp.takes(PostCureOrder)
@bp.gives(HeatingView, 201)
def keep(order: PostCureOrder) -> HeatingView:
    """Keep a post-cure; from its start the part has its temperatures."""
    return keep_post_cure(store(), order, now())


@bp.post("/post-cures/<heating_id>/off")
@bp.takes(OnlyId)
@bp.gives(HeatingView, 201)
def call_it_off(heating_id: str, order: OnlyId) -> HeatingView:
    """Call a post-cure off."""
    with store().writing() as uow:
        return call_off(uow, heating_id, order.id, now())

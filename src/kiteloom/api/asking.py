"""Questions put to the plan: what if, what would help most, how sure; stopped, made so, or left. Thin."""

from __future__ import annotations

from kiteloom.api.house import Routes, now, store, worker
from kiteloom.views.how_sure import HowSureView, how_sure_view
from kiteloom.views.what_helps import WhatHelps, what_helps
from kiteloom.views.what_if import WhatIf, what_if
from kiteloom.workshop.base.saved import Kept, OnlyId
from kiteloom.workshop.plan import studies

bp = Routes("asking", "Plan")


def _searching(kind: studies.Kind) -> bool:
    return kind in worker().known()


@bp.get("/what-if")
@bp.gives(WhatIf)
def read_what_if() -> WhatIf:
    """The last what-if, beside the plan there is."""
    searching = _searching("what if")
    with store().reading() as uow:
        return what_if(store(), uow, now(), searching=searching or _searching("what if"))


@bp.get("/what-helps")
@bp.gives(WhatHelps)
def read_what_helps() -> WhatHelps:
    """What each single relief brings."""
    searching = _searching("helps")
    with store().reading() as uow:
        return what_helps(uow, now(), searching=searching or _searching("helps"))


@bp.get("/how-sure")
@bp.gives(HowSureView)
def read_how_sure() -> HowSureView:
    """The dates that hold in 5, 50 and 95 of 100 drawn plans, and what decides them."""
    searching = _searching("sure")
    with store().reading() as uow:
        return how_sure_view(uow, now(), searching=searching or _searching("sure"))


@bp.post("/studies")
@bp.takes(studies.AskPlan)
@bp.gives(Kept, 201)
def ask(order: studies.AskPlan) -> Kept:
    """Put a question to the plan."""
    return studies.ask_plan(worker(), store(), order, now())


@bp.post("/studies/stop")
@bp.takes(OnlyId)
@bp.gives(Kept)
def stop(order: OnlyId) -> Kept:
    """Stop looking into it: what was found so far stays."""
    return studies.stop_study(worker(), store(), order.id)


@bp.post("/studies/make-so")
@bp.takes(OnlyId)
@bp.gives(Kept)
def make_so(order: OnlyId) -> Kept:
    """Make what was supposed so."""
    return studies.make_it_so(store(), order.id, now())


@bp.post("/studies/leave")
@bp.takes(OnlyId)
@bp.gives(Kept)
def leave(order: OnlyId) -> Kept:
    """Leave it: the plan stays as it is."""
    with store().writing() as uow:
        return studies.leave_study(uow, order.id, now())

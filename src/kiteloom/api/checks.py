"""Checks of parts: what is read, what it found, what was decided. Thin."""

from __future__ import annotations

from kiteloom.api.house import Routes, now, store
from kiteloom.views.part import checks
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.build.checks import PutAwayCheck, SayCheck, put_check_away, say_check
from kiteloom.workshop.log.measured import NoteMeasured, note_measured
from kiteloom.workshop.log.ruling import Rule, rule

bp = Routes("checks", "Checks")


@bp.get("/parts/<part_id>/checks")
@bp.gives(checks.ChecksView)
def read_checks(part_id: str) -> checks.ChecksView:
    """The checks of a part."""
    with store().reading() as uow:
        return checks.checks_view(uow, part_id)


@bp.post("/parts/<part_id>/checks")
@bp.takes(SayCheck)
@bp.gives(Saved)
def say_a_check(part_id: str, order: SayCheck) -> Saved:
    """Say or change a check of all parts of its design."""
    with store().writing() as uow:
        return say_check(uow, part_id, order, now())


@bp.patch("/checks/<check_id>")
@bp.takes(PutAwayCheck)
@bp.gives(Kept)
def put_away(check_id: str, order: PutAwayCheck) -> Kept:
    """Put a check away, or take it out again."""
    with store().writing() as uow:
        return put_check_away(uow, check_id, order, now())


@bp.post("/parts/<part_id>/measured")
@bp.takes(NoteMeasured)
@bp.gives(Kept, 201)
def measure(part_id: str, order: NoteMeasured) -> Kept:
    """Note what was read."""
    with store().writing() as uow:
        return note_measured(uow, part_id, order, now())


@bp.post("/measured/<measured_id>/rulings")
@bp.takes(Rule)
@bp.gives(Kept, 201)
def decide(measured_id: str, order: Rule) -> Kept:
    """Decide about a reading out of tolerance."""
    with store().writing() as uow:
        return rule(uow, measured_id, order, now())

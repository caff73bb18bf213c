"""What parts take, and the losses under it. Thin."""

from __future__ import annotations

from kiteloom.api.build import OfJob
from kiteloom.api.house import Routes, now, store
from kiteloom.views.part import coats, takes
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.need.losses import EditLosses, edit_losses

bp = Routes("need", "Needs")


class OfStep(OfJob):
    """Of which job, by its key or a step's; of all when neither is named."""

    step: str | None = None


@bp.get("/parts/<part_id>/mix")
@bp.asks(OfStep)
@bp.gives(takes.MixView)
def read_mix(part_id: str, asked: OfStep) -> takes.MixView:
    """What it takes, and its batches."""
    with store().reading() as uow:
        return takes.mix_view(uow, part_id, asked.job, asked.step, now())


@bp.patch("/jobs/<job_id>/losses")
@bp.takes(EditLosses)
@bp.gives(Saved)
def change_losses(job_id: str, order: EditLosses) -> Saved:
    """Say where the shop knows better."""
    with store().writing() as uow:
        return edit_losses(uow, job_id, order, now())


@bp.get("/parts/<part_id>/coats")
@bp.asks(OfJob)
@bp.gives(coats.CoatsView)
def read_coats(part_id: str, asked: OfJob) -> coats.CoatsView:
    """The coats of one of its jobs, with the parts it is coated with in one go."""
    with store().reading() as uow:
        return coats.coats_view(uow, part_id, asked.job, now())


@bp.post("/parts/<part_id>/coats/compare")
@bp.takes(coats.CompareWays)
@bp.gives(coats.ComparedWays)
def compare_coats(part_id: str, order: coats.CompareWays) -> coats.ComparedWays:
    """Compare ways of putting the same coats on; nothing is kept."""
    with store().reading() as uow:
        return coats.compare_ways(uow, part_id, order)

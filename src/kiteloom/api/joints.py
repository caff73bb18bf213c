"""Joints: what they tie, their dry fit, their fasteners, and the order they are made in. Thin."""

from __future__ import annotations

from flask import Response

from kiteloom.api.house import Routes, file, now, store
from kiteloom.views import joints as joints_page
from kiteloom.views.part import coin_tap, hidden_hole
from kiteloom.views.part import joint as part_page
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.build.joint_edits import NoteDryFit, SayJoint, note_dry_fit, say_joint
from kiteloom.workshop.log.coin_taps import NoteTap, RuleTap, note_tap, rule_tap

bp = Routes("joints", "Joints")


@bp.get("/airframes/<airframe_id>/joints")
@bp.gives(joints_page.JointsView)
def read_joints(airframe_id: str) -> joints_page.JointsView:
    """The joints of an airframe in their order."""
    with store().reading() as uow:
        return joints_page.joints_view(uow, airframe_id, now())


@bp.get("/parts/<part_id>/joint")
@bp.gives(part_page.JointView)
def read_joint(part_id: str) -> part_page.JointView:
    """A part's bonding as a joint."""
    with store().reading() as uow:
        return part_page.joint_view(uow, part_id, now())


@bp.post("/parts/<part_id>/joint")
@bp.takes(SayJoint)
@bp.gives(Saved)
def say_a_joint(part_id: str, order: SayJoint) -> Saved:
    """Say what it ties."""
    with store().writing() as uow:
        return say_joint(uow, part_id, order, now())


@bp.post("/parts/<part_id>/dry-fits")
@bp.takes(NoteDryFit)
@bp.gives(Kept, 201)
def fit_dry(part_id: str, order: NoteDryFit) -> Kept:
    """Note the gaps a dry fit showed."""
    with store().writing() as uow:
        return note_dry_fit(uow, part_id, order, now())


@bp.get("/parts/<part_id>/fasteners.pdf")
def fastener_strip(part_id: str) -> Response:
    """Its row of fasteners at full size."""
    with store().reading() as uow:
        page = part_page.fastener_strip(uow, part_id)
    return file(page, "application/pdf", "fasteners.pdf")


@bp.post("/hidden-hole/look")
@bp.takes(hidden_hole.LookForHole)
@bp.gives(hidden_hole.HoleSaid)
def look_for_hole(order: hidden_hole.LookForHole) -> hidden_hole.HoleSaid:
    """Where a hole is that can't be seen; nothing is kept."""
    with store().reading() as uow:
        return hidden_hole.look_for_hole(uow, order)


@bp.get("/parts/<part_id>/taps")
@bp.gives(coin_tap.TapsView)
def read_taps(part_id: str) -> coin_tap.TapsView:
    """A joint tapped with a coin."""
    with store().reading() as uow:
        return coin_tap.taps_view(uow, part_id)


@bp.post("/parts/<part_id>/taps")
@bp.takes(NoteTap)
@bp.gives(Kept, 201)
def tap_joint(part_id: str, order: NoteTap) -> Kept:
    """Note where it sounds dull."""
    with store().writing() as uow:
        return note_tap(uow, part_id, order, now())


@bp.post("/taps/<tap_id>/rulings")
@bp.takes(RuleTap)
@bp.gives(Kept, 201)
def decide_tap(tap_id: str, order: RuleTap) -> Kept:
    """Decide about its voids."""
    with store().writing() as uow:
        return rule_tap(uow, tap_id, order, now())

"""A joint as it is shown: its faces and how they are, what it takes, what the dry fit showed, when its turn is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from kiteloom.core.base.calendar import lasting, minute_of, when
from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import UnitSystem, show, system_of
from kiteloom.core.build.bond_line import SQUEEZE_OUT, Gap, GlueLine, fillet_g, line_g, thickness_mm, too_wide
from kiteloom.core.build.faces import barrier_between, moisture_says, room_says, treatments
from kiteloom.core.build.fasteners import Fasteners, countersink_leaves_mm, hole_minutes
from kiteloom.core.build.task import Task
from kiteloom.core.stores.materials import ResinSheet
from kiteloom.formats.fastener_strip import strip_page
from kiteloom.store.models import Joint, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.part.job import GivenField, given_fields
from kiteloom.workshop.air.climate import WOOD_MIN, ShopTemperature, shop_temperature
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.build.jobs import BuiltJob
from kiteloom.workshop.build.joint_edits import FastenersGiven, row_of
from kiteloom.workshop.build.joints import dry_fits, gaps_of
from kiteloom.workshop.build.parts import BuiltPart, built_part, built_parts, joints_in_order
from kiteloom.workshop.log.faces import FaceOf, Which, faces_of


@dataclass(frozen=True)
class TreatmentView:
    """One thing that is done to a face; ``item`` is its key on the run sheet."""

    item: str
    does: str
    detail: str
    asks: str
    done: bool


@dataclass(frozen=True)
class FaceView:
    """One side: its part and where on it, what it is of, how it is now in words, and what makes it ready."""

    which: Which
    part_id: str
    part: str
    where: str
    fixes: bool
    face: str
    state: str
    sentence: str
    treatments: list[TreatmentView]
    moisture: str


@dataclass(frozen=True)
class GapRow:
    """A gap as it was read, as text; ``wide`` when the adhesive does not fill it."""

    at: str
    gap: str
    wide: bool


@dataclass(frozen=True)
class Turn:
    """When its turn is: which of how many, why then, and whether one may go home after it."""

    number: int
    of: int
    why: str
    stop: bool


@dataclass(frozen=True)
class CheckSaid:
    """What was given of a row of fasteners, against the least there may be."""

    words: str
    holds: bool


@dataclass(frozen=True)
class FastenersView:
    """A joint's row of fasteners: what is asked, what it comes to in sentences, and what is checked."""

    given: bool
    fields: list[GivenField]
    says: list[str]
    checks: list[CheckSaid]


@dataclass(frozen=True)
class JointView:
    """A joint. ``version`` is 0 while nobody has said what it ties; ``cant`` says why it can't be made yet."""

    part_id: str
    name: str
    version: int
    step_key: str
    """The step that makes its faces ready."""
    airframe_id: str
    cant: list[str]
    faces: list[FaceView]
    moisture: str
    barrier: str
    loose: list[str]
    located: list[str]
    after: list[str]
    shuts: list[str]
    parts: list[Choice]
    joints: list[Choice]
    turn: Turn | None
    figures: tuple[Figure, ...]
    gaps: list[GapRow]
    fit: str
    """What the dry fit showed, in words; ``""`` while there was none."""
    fits: bool
    fasteners: FastenersView
    cautions: str


_CAUTIONS = (
    "Adhesives, faces and order are the kit maker’s and the adhesive maker’s to say; loads, fasteners and what holds "
    "belong to the designer and a licensed inspector. Nothing here approves a joint."
)


def joint_view(uow: UnitOfWork, part_id: str, now: datetime) -> JointView:
    """A part's bonding as a joint; `Refused` where it has no bonding job."""
    part = built_part(uow, part_id)
    job = part.bonding
    if job is None:
        raise Refused("part_id", f"{part.name} is no joint: none of its jobs bonds two parts")
    units, minute, zone = units_of(uow), minute_of(now), zone_here(uow)
    row = uow.get(Part, part_id).joint
    others = [other for other in built_parts(uow) if other.airframe_id == part.airframe_id and other.id != part.id]
    task, paste = (None, None) if job.cant else (job.task, part.adhesive[1])
    now_faces = faces_of(uow, part, minute)
    gaps = gaps_of(uow, part_id)
    fit, fits = _fit(uow, part_id, gaps, paste, units)
    return JointView(
        part.id,
        part.name,
        row.version if row is not None else 0,
        part.faces_ready,
        part.airframe_id,
        list(job.cant),
        [_face(face, n, row, task, lambda at: when(at, zone, minute)) for n, face in enumerate(now_faces)],
        _moisture([face.moist_pct for face in now_faces], shop_temperature(uow, minute - WOOD_MIN, minute), minute),
        barrier_between(task.given.one, task.given.other) if task is not None else "",
        list(row.loose) if row is not None else [],
        list(row.located) if row is not None else [],
        list(row.after) if row is not None else [],
        list(row.shuts) if row is not None else [],
        [Choice(other.id, other.name) for other in others],
        [Choice(other.id, other.name) for other in others if other.ties is not None],
        _turn(uow, part) if row is not None else None,
        _figures(task.given, paste, job, gaps) if task is not None and paste is not None else (),
        _rows(gaps, paste, units),
        fit,
        fits,
        _fasteners(row, task, units),
        _CAUTIONS,
    )


def _moisture(read: list[float | None], air: ShopTemperature | None, minute: float) -> str:
    """What the moisture of its faces asks for: alike, and as this room makes it."""
    if not read:
        return ""
    says = moisture_says(*read)
    room, known = air.wood_pct(minute) if air is not None else None, [pct for pct in read if pct is not None]
    if says or room is None or not known:
        return says
    more = room_says(sum(known) / len(known), room)
    return f"Moisture is {known[0]:g} %; {more}." if more else ""


def _face(face: FaceOf, n: int, row: Joint | None, task: Task[GlueLine] | None, at: Callable[[float], str]) -> FaceView:
    says: dict[str, Any] = row.faces[n] if row is not None else {"part_id": "", "where": "", "fixes": True}
    wet = task.given.wet if task is not None else False
    rows = [
        TreatmentView(f"{face.which}/{one.key}", one.does, one.detail, one.asks, one.key in face.now.counts)
        for one in treatments(face.face, wet=wet)
    ]
    words = face.now.words(at)
    return FaceView(
        face.which,
        says["part_id"],
        face.name if row is not None else "",
        says["where"],
        bool(says["fixes"]),
        face.face,
        face.now.state,
        f"{words[:1].upper()}{words[1:]}.",
        rows,
        f"{face.moist_pct:g} %" if face.moist_pct is not None else "",
    )


def _turn(uow: UnitOfWork, part: BuiltPart) -> Turn | None:
    joints = joints_in_order(built_parts(uow)).get(part.airframe_id)
    if joints is None or joints.order is None:
        return None
    order = joints.order
    if part.name not in order.order:
        return None
    at = order.order.index(part.name)
    return Turn(at + 1, len(order.order), order.because[at].says, part.name in order.breaks)


def _figures(given: GlueLine, paste: ResinSheet, job: BuiltJob, gaps: tuple[Gap, ...]) -> tuple[Figure, ...]:
    density = paste.cured_density_g_ml
    thick = thickness_mm(given.thickness_mm, gaps, given.length_m)
    line = line_g(given.length_m, given.width_m, thick, density)
    size = (
        Given("length", given.length_m, "length"),
        Given("width", 1000 * given.width_m, "step"),
        Given("thickness, mean of the dry fit" if gaps else "thickness", thick, "thickness"),
        Given("density", 1000 * density, "density", "cured_density_g_ml" in paste.assumed),
    )
    found = [Figure("glue_line", "In the glue line", line, "mass", "length × width × thickness × density", size)]
    planned = line_g(given.length_m, given.width_m, given.thickness_mm, density)
    if gaps and line > planned:
        found.append(
            Figure("gap", "More, where it gapes", line - planned, "mass", "glue line as fitted − as planned",
                   (Given("as fitted", line, "mass"), Given("as planned", planned, "mass")))
        )  # fmt: skip
    fillets = fillet_g(given.length_m, given.fillets, given.fillet_mm, density)
    if fillets:
        found.append(
            Figure("fillets", "In its fillets", fillets, "mass", "(1 − π/4) × r² × length × density, each",
                   (Given("fillets", given.fillets), Given("radius", given.fillet_mm, "step")))
        )  # fmt: skip
    need = next(iter(job.needs.values()), None)
    if need is not None:
        parts = (
            Given("in the glue line", line, "mass"),
            Given("times, with squeeze-out", SQUEEZE_OUT),
            Given("fillets", fillets, "mass"),
            Given("left in cups", need.cup_g, "mass"),
        )
        found.append(Figure("mix", "To mix", need.total_g, "mass", "glue line × squeeze-out + fillets + cups", parts))
    return tuple(found)


def _rows(gaps: tuple[Gap, ...], paste: ResinSheet | None, units: UnitSystem) -> list[GapRow]:
    widest = paste.widest_gap_mm if paste is not None else None
    wide = set(too_wide(gaps, widest)) if widest is not None else set()
    return [GapRow(show(gap.at_m, "length", units), show(gap.gap_mm, "thickness", units), gap in wide) for gap in gaps]


def _fit(uow: UnitOfWork, part_id: str, gaps: tuple[Gap, ...], paste: ResinSheet | None, units: UnitSystem
         ) -> tuple[str, bool]:  # fmt: skip
    row = dry_fits(uow).get(part_id)
    if row is None or paste is None:
        return "", True
    at = when(minute_of(row.happened_at), zone_here(uow))
    if not gaps:
        return f"Fitted dry {at}: it closes as it was planned.", True
    most = max(gaps, key=lambda gap: gap.gap_mm)
    said = f"Fitted dry {at}: at most {show(most.gap_mm, 'thickness', units)}, at {show(most.at_m, 'length', units)}."
    if paste.widest_gap_mm is None:
        return f"{said} The sheet of {paste.name} does not say how wide a gap it fills.", True
    limit = show(paste.widest_gap_mm, "thickness", units)
    wide = too_wide(gaps, paste.widest_gap_mm)
    if wide:
        places = ", ".join(show(gap.at_m, "length", units) for gap in wide)
        return f"{said} Too wide for {paste.name} at {places}: it fills {limit}. Fit it anew, or shim it.", False
    return f"{said} {paste.name} fills {limit}.", True


def _fasteners(row: Joint | None, task: Task[GlueLine] | None, units: UnitSystem) -> FastenersView:
    says = row.fasteners if row is not None else {}
    fields = given_fields(FastenersGiven, says, units)
    if not says or task is None:
        return FastenersView(bool(says), fields, [], [])
    try:
        found = row_of(says, task.given.length_m, units)
    except Refused as refused:
        return FastenersView(True, fields, [], [CheckSaid(f"{refused.sentence[:1].upper()}{refused.sentence[1:]}.",
                                                          holds=False)])  # fmt: skip
    assert found is not None
    checks = [CheckSaid(one.says, one.ok) for one in found.checks]
    if says.get("countersunk"):
        leaves = countersink_leaves_mm(says["diameter_mm"], says["one_mm"])
        left = show(max(leaves, 0.0), "thickness", units)
        checks.append(CheckSaid(
            f"The countersink leaves {left} of the first side." if leaves > 0 else
            "The countersink goes through the first side and leaves a knife edge: dimple it, or take a thicker one.",
            leaves > 0))  # fmt: skip
    words = _row_words(found, units)
    if found.layout is not None:
        minutes = hole_minutes(found.layout.count, countersunk=bool(says.get("countersunk")))
        words.append(
            f"Drilled, deburred{', countersunk' if says.get('countersunk') else ''}: about {lasting(minutes)} by hand."
        )
    return FastenersView(True, fields, words, checks)


def _row_words(found: Fasteners, units: UnitSystem) -> list[str]:
    def small(mm: float) -> str:
        return show(mm, "step" if system_of(units) == "us" else "thickness", units)

    words = []
    if found.layout is not None:
        words.append(f"{found.layout.count} in a row, {small(found.layout.pitch_mm)} apart, the first "
                     f"{small(found.layout.at_mm[0])} from the end.")  # fmt: skip
    words.append(f"At least {small(found.edge_least_mm)} to an edge, {small(found.pitch_least_mm)} apart.")
    grip = f"They grip {small(found.grip_mm)}"
    words.append(f"{grip}; {small(found.length_mm)} long." if found.length_mm is not None else f"{grip}.")
    if found.washer:
        words.append("A washer behind each: the blind end pulls through laminate.")
    return words


def fastener_strip(uow: UnitOfWork, part_id: str) -> bytes:
    """The row at full size on paper, to lay along the edge, with its table from one end."""
    part = built_part(uow, part_id)
    row = uow.get(Part, part_id).joint
    job = part.bonding
    if row is None or not row.fasteners or job is None or job.task is None:
        raise Refused("fasteners", f"{part.name} has no row of fasteners yet")
    found = row_of(row.fasteners, job.task.given.length_m)
    assert found is not None
    assert found.layout is not None
    us = system_of(units_of(uow)) == "us"
    return strip_page(part.name, 1000 * job.task.given.length_m, found.layout, row.fasteners["diameter_mm"], us=us)

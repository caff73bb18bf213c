"""A hole that can't be seen any more, as it is looked for: nothing is kept."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed, show, system_of
from kiteloom.core.build.hidden_hole import OFF_MM, STEP_IN_MM, by_pitch, by_two_measures, pilot_mm
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import units_of


@dataclass(frozen=True)
class LookForHole:
    """A hole that can't be seen: its measures from two points so far apart, or so many pitches from one that was found;
    and the diameter it has in the end. ``off`` is how far off a measure may be.
    """

    by: Literal["two measures", "pitch"]
    hole: Typed
    apart: Typed
    one: Typed | None = None
    other: Typed | None = None
    steps: int = 1
    off: Typed | None = None


@dataclass(frozen=True)
class HoleSaid:
    """Where it is, how far off that may be, and which pilot drill forgives it, in sentences."""

    says: list[str]
    holds: bool
    off_mm: float


def look_for_hole(uow: UnitOfWork, order: LookForHole) -> HoleSaid:
    """Find a hole again; nothing is kept."""
    units = units_of(uow)
    us = system_of(units) == "us"

    def mm(typed: Typed | None, field: str) -> float:
        if typed is None or not typed.text.strip():
            raise Refused(field, "it is not measured yet")
        return 1000 * typed.read("length", field)

    off = mm(order.off, "off") if order.off is not None and order.off.text.strip() else OFF_MM
    apart, hole = mm(order.apart, "apart"), mm(order.hole, "hole")
    if order.by == "pitch":
        found = by_pitch(apart, order.steps, off)
    else:
        found = by_two_measures(apart, mm(order.one, "one"), mm(order.other, "other"), off)
    pilot = pilot_mm(hole, found.off_mm, "us" if us else "metric")

    def small(value: float) -> str:
        return show(value, "step" if us else "thickness", units)

    where = f"{small(found.along_mm)} along from the first point" if order.by != "pitch" else (
        f"{small(found.along_mm)} along from the hole that was found"
    )  # fmt: skip
    across = f", {small(found.across_mm)} across" if order.by != "pitch" else ""
    says = [f"It is {where}{across}, and may be {show(found.off_mm, 'thickness', units)} off."]
    if pilot is None:
        says.append(f"No pilot drill forgives that for a hole of {show(hole, 'thickness', units)}: find it by a light, "
                    "a magnet or a strap duplicator, or measure from points that cross more steeply.")  # fmt: skip
    else:
        drill = f"{round(pilot / STEP_IN_MM)}/64 in" if us else f"{pilot:g} mm"
        says.append(f"Pilot no larger than {drill}: wherever the hole is, it takes that away. Look, then open it up.")
    return HoleSaid(says, pilot is not None, found.off_mm)

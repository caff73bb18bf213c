"""Forms: read from their rows, and edited."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Any, Literal

from sqlalchemy import select

from kiteloom.core.base.fields import asked_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed, show
from kiteloom.core.shape import reading
from kiteloom.core.shape.loft import Loft, Planform
from kiteloom.core.shape.section import naca4
from kiteloom.formats.airfoil_dat import read_airfoil_dat
from kiteloom.store.models import Design, Part, Shape
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.base.shop import units_of


def loft_of(shape: Shape) -> Loft:
    """A shape's loft."""
    return reading.loft(shape.stations)


def measured(loft: Loft) -> Planform | None:
    """The four measures of a loft of two stations; None for one of more."""
    return loft.bays[0].planform if len(loft.bays) == 1 else None


def parts_of_shape(uow: UnitOfWork, shape_id: str) -> list[Part]:
    """Every part that a shape's shape decides, in order."""
    query = select(Part).join(Design).where(Design.shape_id == shape_id).order_by(Part.rank)
    return list(uow.session.scalars(query))


@dataclass(frozen=True)
class SectionEdit:
    """A new section for one end or both: four digits, or the text of a coordinate file."""

    end: Literal["root", "tip", "both"]
    naca: str | None = None
    file: str | None = None
    file_name: str = ""


@dataclass(frozen=True)
class EditShape:
    """Measures as typed, by field, and perhaps a section."""

    version: int
    measures: dict[str, Typed] = field(default_factory=dict)
    section: SectionEdit | None = None
    reason: str = ""
    """Why, where a part of it is laid up already."""


def edit_shape(uow: UnitOfWork, shape_id: str, order: EditShape, now: datetime) -> Saved:
    """Change a shape: all of what was typed, or nothing."""
    shape = uow.get_for_edit(Shape, shape_id, order.version)
    units, words, note = units_of(uow), [], ""
    before, (root, *_, tip) = measured(loft_of(shape)), [row["section"] for row in shape.stations]
    asked = asked_of(Planform)
    if before is None:
        raise Refused("measures", f"{shape.name} has {len(shape.stations)} stations; only two can be measured so")
    changed = {}
    for name, typed in order.measures.items():
        if name not in asked:
            raise Refused(name, f"“{name}” is not a measure of a shape; they are {', '.join(asked)}")
        value, old = typed.read("length", name), getattr(before, name)
        if value != old:
            said = (show(metres, "length", units) for metres in (old, value))
            words.append(f"{asked[name][0].label} {' → '.join(said)}")
            changed[name] = value
    if order.section is not None:
        says, note = _section_says(order.section)
        new, end = reading.section(says).name, order.section.end
        ends = {"root": root, "tip": tip}
        for each in ("root", "tip") if end == "both" else (end,):
            words.append(f"{each} section {reading.section(ends[each]).name} → {new}")
        root, tip = (says if end in (each, "both") else ends[each] for each in ("root", "tip"))
    stations = reading.two_stations(replace(before, **changed), root, tip)
    reading.loft(stations)  # refuses what can't be built, before anything is kept
    if words:
        shape.stations = stations
        uow.edited(shape, words, now, "shape")
    return Saved(shape.version, note)


def _section_says(edit: SectionEdit) -> tuple[dict[str, Any], str]:
    if edit.naca:
        digits = edit.naca.strip().upper().removeprefix("NACA").strip()
        return reading.section_says(naca4(digits)), ""
    if edit.file:
        read = read_airfoil_dat(edit.file, edit.file_name)
        return reading.section_says(read.section), read.note
    raise Refused("section", "nothing was given; type four NACA digits or choose a coordinate file")

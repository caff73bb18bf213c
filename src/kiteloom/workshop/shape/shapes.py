"""Forms: read from their rows, and edited."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, Literal

from sqlalchemy import select

from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed, show
from kiteloom.core.shape import reading
from kiteloom.core.shape.loft import Panel, naca4
from kiteloom.formats.airfoil_dat import read_airfoil_dat
from kiteloom.store.models import Design, Part, Shape
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.base.shop import units_of


def panel_of(shape: Shape) -> Panel:
    """A shape's panel."""
    planform = {
        "span_m": shape.span_m,
        "root_chord_m": shape.root_chord_m,
        "tip_chord_m": shape.tip_chord_m,
        "sweep_m": shape.sweep_m,
    }
    return reading.panel(planform, reading.section(shape.root_section), reading.section(shape.tip_section))


def parts_of_shape(uow: UnitOfWork, shape_id: str) -> list[Part]:
    """Every part that a shape's shape decides, in order."""
    query = select(Part).join(Design).where(Design.shape_id == shape_id).order_by(Part.rank)
    return list(uow.session.scalars(query))


#: The planform's measures: field of the shape → what the builder calls it.
MEASURES = {
    "span_m": "Span of the panel",
    "root_chord_m": "Root chord",
    "tip_chord_m": "Tip chord",
    "sweep_m": "Leading edge sweep",
}


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


def edit_shape(uow: UnitOfWork, shape_id: str, order: EditShape, now: datetime) -> Saved:
    """Change a shape: all of what was typed, or nothing."""
    shape, section = uow.get_for_edit(Shape, shape_id, order.version), order.section
    units, words, note = units_of(uow), [], ""
    for name, typed in order.measures.items():
        if name not in MEASURES:
            raise Refused(name, f"“{name}” is not a measure of a shape; they are {', '.join(MEASURES)}")
        value, old = typed.read("length", name), getattr(shape, name)
        if value != old:
            words.append(f"{MEASURES[name]} {show(old, 'length', units)} → {show(value, 'length', units)}")
            setattr(shape, name, value)
    if section is not None:
        says, note = _section_says(section)
        for end in ("root", "tip") if section.end == "both" else (section.end,):
            old_name = reading.section(getattr(shape, f"{end}_section")).name
            new_name = reading.section(says).name
            words.append(f"{end} section {old_name} → {new_name}")
            setattr(shape, f"{end}_section", says)
    panel_of(shape)  # refuses what can't be built, before anything is kept
    if words:
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

"""Forms: read from their rows, and edited."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from sqlalchemy import select

from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed, show
from kiteloom.core.shape import reading
from kiteloom.core.shape.loft import Panel, naca4
from kiteloom.formats.airfoil_dat import read_airfoil_dat
from kiteloom.store.models import Design, Form, Surface
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.base.shop import units_of


def panel_of(form: Form) -> Panel:
    """A form's panel."""
    planform = {
        "span_m": form.span_m,
        "root_chord_m": form.root_chord_m,
        "tip_chord_m": form.tip_chord_m,
        "sweep_m": form.sweep_m,
    }
    return reading.panel(planform, reading.section(form.root_section), reading.section(form.tip_section))


def surfaces_of_form(uow: UnitOfWork, form_id: str) -> list[Surface]:
    """Every part that a form's shape decides, in order."""
    query = select(Surface).join(Design).where(Design.form_id == form_id).order_by(Surface.rank)
    return list(uow.session.scalars(query))


#: The planform's measures: field of the form → what the builder calls it.
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


def edit_form(
    uow: UnitOfWork,
    form_id: str,
    version: int,
    measures: dict[str, Typed],
    section: SectionEdit | None,
    now: datetime,
) -> Saved:
    """Change a form: all of what was typed, or nothing."""
    form = uow.get_for_edit(Form, form_id, version)
    units, words, note = units_of(uow), [], ""
    for field, typed in measures.items():
        if field not in MEASURES:
            raise Refused(field, f"“{field}” is not a measure of a form; they are {', '.join(MEASURES)}")
        value, old = typed.read("length", field), getattr(form, field)
        if value != old:
            words.append(f"{MEASURES[field]} {show(old, 'length', units)} → {show(value, 'length', units)}")
            setattr(form, field, value)
    if section is not None:
        says, note = _section_says(section)
        for end in ("root", "tip") if section.end == "both" else (section.end,):
            old_name = reading.section(getattr(form, f"{end}_section")).name
            new_name = reading.section(says).name
            words.append(f"{end} section {old_name} → {new_name}")
            setattr(form, f"{end}_section", says)
    panel_of(form)  # refuses what can't be built, before anything is kept
    if words:
        uow.edited(form, words, now, "form")
    return Saved(form.version, note)


def _section_says(edit: SectionEdit) -> tuple[dict[str, Any], str]:
    if edit.naca:
        digits = edit.naca.strip().upper().removeprefix("NACA").strip()
        return reading.section_says(naca4(digits)), ""
    if edit.file:
        read = read_airfoil_dat(edit.file, edit.file_name)
        return reading.section_says(read.section), read.note
    raise Refused("section", "nothing was given; type four NACA digits or choose a coordinate file")

"""A surface's shape: its figures and drawing, and editing the form it stands on."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from kiteloom.core import reading
from kiteloom.core.figures import Figure
from kiteloom.core.from_what import shape_figures
from kiteloom.core.problems import Refused
from kiteloom.core.quantities import Typed, show
from kiteloom.core.shape import Point, Section, naca4
from kiteloom.formats.airfoil_dat import read_airfoil_dat
from kiteloom.store.models import Form
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.shop import units_of
from kiteloom.workshop.skins import panel_of, skin, surfaces_of_form

#: The planform's measures: field of the form → what the builder calls it.
MEASURES = {
    "span_m": "Span of the panel",
    "root_chord_m": "Root chord",
    "tip_chord_m": "Tip chord",
    "sweep_m": "Leading edge sweep",
}


@dataclass(frozen=True)
class Measure:
    """One number of the planform to edit: as text in the shop's units."""

    field: str
    label: str
    text: str
    unit: str


@dataclass(frozen=True)
class SectionView:
    """A section to draw: its name and both sides, nose first, in fractions of the chord."""

    end: Literal["root", "tip"]
    name: str
    upper: tuple[Point, ...]
    lower: tuple[Point, ...]


@dataclass(frozen=True)
class ShapeView:
    """A surface's shape: what to edit, what to draw, what it comes to."""

    form_id: str
    version: int
    decides: list[str]
    measures: list[Measure]
    outline: tuple[Point, ...]
    sections: list[SectionView]
    figures: tuple[Figure, ...]


def shape_view(uow: UnitOfWork, surface_id: str) -> ShapeView:
    """Read it."""
    found = skin(uow, surface_id)
    units, form = units_of(uow), found.form
    unit = "in" if units == "us" else "m"
    return ShapeView(
        form.id,
        form.version,
        [surface.name for surface in surfaces_of_form(uow, form.id)],
        [Measure(f, label, show(getattr(form, f), "length", units), unit) for f, label in MEASURES.items()],
        found.panel.outline(found.hand),
        [_section("root", found.panel.root), _section("tip", found.panel.tip)],
        shape_figures(found.panel, found.side),
    )


def _section(end: Literal["root", "tip"], section: Section) -> SectionView:
    return SectionView(end, section.name, section.upper, section.lower)


@dataclass(frozen=True)
class SectionEdit:
    """A new section for one end or both: four digits, or the text of a coordinate file."""

    end: Literal["root", "tip", "both"]
    naca: str | None = None
    file: str | None = None
    file_name: str = ""


@dataclass(frozen=True)
class Saved:
    """A save that went through, and what was done to understand it ("" when nothing)."""

    version: int
    note: str = ""


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

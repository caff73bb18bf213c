"""A part's shape: its figures and drawing."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.fields import asked_of
from kiteloom.core.base.figures import Figure
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import show
from kiteloom.core.shape.figures import shape_figures
from kiteloom.core.shape.loft import Planform
from kiteloom.core.shape.section import Point, Section, Side
from kiteloom.store.models import Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.jobs import hand_of
from kiteloom.workshop.shape.shapes import loft_of, measured, parts_of_shape


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
    """A part's shape: what to edit, what to draw, what it comes to."""

    shape_id: str
    version: int
    decides: list[str]
    measures: list[Measure]
    outline: tuple[Point, ...]
    sections: list[SectionView]
    figures: tuple[Figure, ...]


def shape_view(uow: UnitOfWork, part_id: str) -> ShapeView:
    """Read it."""
    part = uow.get(Part, part_id)
    shape, units, hand = part.design.shape, units_of(uow), hand_of(part)
    if shape is None:
        raise Refused("shape", f"{part.name} has no shape yet")
    loft = loft_of(shape)
    plan = measured(loft)
    side: Side = "lower" if part.design.side == "lower" else "upper"
    return ShapeView(
        shape.id,
        shape.version,
        [part.name for part in parts_of_shape(uow, shape.id)],
        [
            Measure(field, asked.label, show(getattr(plan, field), "length", units), asked.unit_for(units))
            for field, (asked, _) in asked_of(Planform).items()
            if plan is not None
        ],
        loft.outline(hand),
        [_section("root", loft.stations[0].section), _section("tip", loft.stations[-1].section)],
        shape_figures(loft, side),
    )


def _section(end: Literal["root", "tip"], section: Section) -> SectionView:
    return SectionView(end, section.name, section.upper, section.lower)

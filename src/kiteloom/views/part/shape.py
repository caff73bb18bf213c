"""A part's shape: as it is typed, its drawing, and what it comes to."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.figures import Figure
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.shape import reading
from kiteloom.core.shape.figures import shape_figures
from kiteloom.core.shape.flat import Kind, Shape
from kiteloom.core.shape.loft import Hand, Loft, Ring
from kiteloom.core.shape.outline import NoOutline
from kiteloom.core.shape.section import Point, Section
from kiteloom.store.models import Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.jobs import hand_of
from kiteloom.workshop.shape.shapes import form_of, parts_of_shape, typed_of
from kiteloom.workshop.shape.typed import ShapeTyped, read_shape

Side = Literal["upper", "lower", "whole"]


@dataclass(frozen=True)
class SectionView:
    """A section to draw: its name and both sides, nose first, in fractions of the chord, and which stations have it."""

    stations: str
    name: str
    upper: tuple[Point, ...]
    lower: tuple[Point, ...]


@dataclass(frozen=True)
class Drawing:
    """A shape drawn and measured: rings of its outline (to the side, aft) [m], ribs across it, sections, figures.

    ``root`` and ``tip`` are the chords of a loft's ends in words; ``""`` where it has none.
    """

    kind: Kind
    root: str
    tip: str
    outline: tuple[Ring, ...]
    ribs: tuple[tuple[Point, Point], ...]
    sections: list[SectionView]
    figures: tuple[Figure, ...]


@dataclass(frozen=True)
class Unread:
    """Why a shape can't be built: the field, in words, and where on its lines (to the side, aft) [m]."""

    field: str
    sentence: str
    places: tuple[Point, ...] = ()
    lines: tuple[Ring, ...] = ()


@dataclass(frozen=True)
class ShapeLook:
    """What was typed, looked at before it is kept: its drawing, or why there is none."""

    drawing: Drawing | None
    notes: tuple[str, ...]
    unread: Unread | None


@dataclass(frozen=True)
class ShapeView:
    """A part's shape: what to edit, what to draw, what it comes to, and the parts it decides."""

    shape_id: str
    version: int
    decides: list[str]
    typed: ShapeTyped
    drawing: Drawing


@dataclass(frozen=True)
class LookAtShape:
    """A shape as typed, the side and hand to draw it for, and the shape it stands for where there is one already."""

    shape: ShapeTyped
    side: Side = "whole"
    hand: Literal["left", "right", "centre", "both"] = "left"
    part_id: str = ""


def shape_view(uow: UnitOfWork, part_id: str) -> ShapeView:
    """Read it."""
    part = uow.get(Part, part_id)
    shape = part.design.shape
    if shape is None:
        raise Refused("shape", f"{part.name} has no shape yet")
    return ShapeView(
        shape.id,
        shape.version,
        [other.name for other in parts_of_shape(uow, shape.id)],
        typed_of(uow, shape),
        drawn(form_of(shape), part.design.side, hand_of(part), units_of(uow)),
    )


def look_at_shape(uow: UnitOfWork, order: LookAtShape) -> ShapeLook:
    """What was typed, drawn and measured; nothing is kept."""
    hand: Hand = "right" if order.hand == "right" else "left"
    before = uow.get(Part, order.part_id).design.shape if order.part_id else None
    kept = before.says if before is not None and before.kind == order.shape.kind else None
    try:
        read = read_shape(order.shape, units_of(uow), kept)
    except NoOutline as open_:
        turn = -1 if hand == "left" else 1
        lines = tuple(tuple((turn * x / 1000, -y / 1000) for x, y in line) for line in open_.lines)
        places = tuple((turn * x / 1000, -y / 1000) for x, y in open_.places)
        return ShapeLook(None, (), Unread(open_.field, open_.sentence, places, lines))
    except Refused as refused:
        return ShapeLook(None, (), Unread(refused.field, refused.sentence))
    return ShapeLook(
        drawn(reading.shape(order.shape.kind, read.says), order.side, hand, units_of(uow)), read.notes, None
    )


def drawn(form: Shape, side: str, hand: Hand, units: UnitSystem) -> Drawing:
    """A shape drawn and measured."""
    ends = (form.stations[0], form.stations[-1]) if isinstance(form, Loft) else ()
    root, tip = (show(row.chord_m, "length", units) for row in ends) if ends else ("", "")
    ribs = tuple(form.ribs_drawn(hand)) if isinstance(form, Loft) else ()
    sections = _sections(form) if isinstance(form, Loft) else []
    figures = shape_figures(form, "lower" if side == "lower" else "upper")
    return Drawing(form.kind, root, tip, form.outline(hand), ribs, sections, figures)  # type: ignore[arg-type]


def _sections(loft: Loft) -> list[SectionView]:
    """Each section once, with the stations that have it."""
    by_section: dict[Section, list[str]] = {}
    for n, row in enumerate(loft.stations, 1):
        by_section.setdefault(row.section, []).append(str(n))
    return [
        SectionView(
            f"station{'s' if len(rows) > 1 else ''} {', '.join(rows)}", section.name, section.upper, section.lower
        )
        for section, rows in by_section.items()
    ]

"""Shapes: read from their rows, and edited."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import cast

from sqlalchemy import select

from kiteloom.core.base.quantities import show
from kiteloom.core.shape import reading
from kiteloom.core.shape.figures import shape_figures
from kiteloom.core.shape.flat import KINDS, Kind
from kiteloom.core.shape.flat import Shape as Form
from kiteloom.store.models import Design, Part, Shape
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.shape.typed import ShapeTyped, read_shape, typed_shape


def form_of(shape: Shape) -> Form:
    """What a kept shape is computed with."""
    return reading.shape(shape.kind, shape.says)


def typed_of(uow: UnitOfWork, shape: Shape) -> ShapeTyped:
    """A kept shape as it is typed, in the shop's units."""
    return typed_shape(cast(Kind, shape.kind), shape.says, units_of(uow))


def parts_of_shape(uow: UnitOfWork, shape_id: str) -> list[Part]:
    """Every part that a shape decides, in order."""
    query = select(Part).join(Design).where(Design.shape_id == shape_id, Part.hidden_at.is_(None))
    return list(uow.session.scalars(query.order_by(Part.rank)))


@dataclass(frozen=True)
class EditShape:
    """The whole shape as typed, and why where a part of it is laid up already."""

    version: int
    shape: ShapeTyped
    reason: str = ""


def edit_shape(uow: UnitOfWork, shape_id: str, order: EditShape, now: datetime) -> Saved:
    """Change a shape: all of what was typed, or nothing."""
    shape = uow.get_for_edit(Shape, shape_id, order.version)
    units = units_of(uow)
    before = shape.says if order.shape.kind == shape.kind else None
    read = read_shape(order.shape, units, before)
    old, new = form_of(shape), reading.shape(order.shape.kind, read.says)
    if old != new or (read.says.get("ribs") or {}) != (shape.says.get("ribs") or {}):
        words = _what_changed(uow, shape, order.shape, old, new)
        shape.kind, shape.says = order.shape.kind, read.says
        uow.edited(shape, words, now, "shape")
    return Saved(shape.version, " ".join(read.notes))


#: What changed is named row by row while there are no more than so many changes.
_FEW = 6


def _what_changed(uow: UnitOfWork, shape: Shape, typed: ShapeTyped, old: Form, new: Form) -> list[str]:
    """What another browser is told: the texts that changed, and what the shape comes to now."""
    units, words = units_of(uow), list[str]()
    before = typed_of(uow, shape)
    if before.kind != typed.kind:
        return [f"shape {KINDS[before.kind]} → {KINDS[typed.kind]}"]
    read = typed_shape(typed.kind, read_shape(typed, units, shape.says).says, units)
    rows = [(before.stations, read.stations), (before.strips, read.strips), (before.pieces, read.pieces)]
    for was, now in rows:
        if len(was) != len(now):
            words.append(f"{len(was)} rows → {len(now)}")
            continue
        for n, (one, other) in enumerate(zip(was, now, strict=True), 1):
            for name, text in vars(one).items():
                if text != getattr(other, name):
                    said = "section" if name == "section" else name.replace("_", " ")
                    words.append(f"row {n}, {said}: {_text(text)} → {_text(getattr(other, name))}")
    if before.ribs != read.ribs:
        words.append("ribs and lands")
    figures = {figure.key: figure for figure in shape_figures(old, "upper")}
    for figure in shape_figures(new, "upper")[:1]:
        was_figure = figures.get(figure.key)
        if (
            was_figure
            and was_figure.value is not None
            and figure.value is not None
            and figure.value != was_figure.value
        ):
            told = (show(value, figure.kind, units) for value in (was_figure.value, figure.value))
            words.append(f"{figure.label} {' → '.join(told)}")
    return [*words[:_FEW], *([f"and {len(words) - _FEW} more"] if len(words) > _FEW else [])] or ["shape"]


def _text(value: object) -> str:
    if isinstance(value, str):
        return value or "nothing"
    naca, name = getattr(value, "naca", ""), getattr(value, "name", "")
    return f"NACA {naca}" if naca else name or "none"

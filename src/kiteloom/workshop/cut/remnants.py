"""Remnants on the shelf: left over by a layout, or measured and put there; used, thrown away, there after all."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed
from kiteloom.core.laminate.cutting import way_kind
from kiteloom.core.laminate.layout import Remnant as Left
from kiteloom.core.laminate.layout import Rings
from kiteloom.store.models import DataSheet, Remnant, RemnantNote
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept

#: How small and how large a remnant may be [mm].
LEAST_MM, MOST_MM = 10.0, 200_000.0


@dataclass(frozen=True)
class AddRemnant:
    """A remnant that was measured: so long along its warp or grain, so wide. The client makes the id."""

    id: str
    data_sheet_id: str
    length: Typed
    width: Typed
    note: str = ""


@dataclass(frozen=True)
class NoteRemnant:
    """That a remnant was used up, thrown away, or is there after all."""

    id: str
    kind: str


def add_remnant(uow: UnitOfWork, order: AddRemnant, now: datetime) -> Kept:
    """Put a remnant on the shelf."""
    if uow.kept_already(Remnant, order.id, data_sheet_id=order.data_sheet_id) is None:
        way_kind(uow.get(DataSheet, order.data_sheet_id).kind)
        length, width = (
            between(field, 1000 * typed.read("length", field), LEAST_MM, MOST_MM, unit="mm", name=name)
            for field, name, typed in (("length", "the length", order.length), ("width", "the width", order.width))
        )
        ring = ((0.0, 0.0), (length, 0.0), (length, width), (0.0, width))
        keep_remnant(uow, order.id, order.data_sheet_id, (ring,), None, now, order.note.strip()[:200])
    return Kept(order.id)


def keep_remnant(
    uow: UnitOfWork, key: str, sheet: str, rings: Rings, way: str | None, now: datetime, note: str = ""
) -> None:
    """Keep one, by its id."""
    uow.add(
        Remnant(id=key, data_sheet_id=sheet, rings=[[list(at) for at in ring] for ring in rings], cut_way_id=way,
                note=note, happened_at=now, recorded_at=now)
    )  # fmt: skip
    uow.changed("cut", key)


def note_remnant(uow: UnitOfWork, remnant_id: str, order: NoteRemnant, now: datetime, way: str | None = None) -> None:
    """Note what became of a remnant."""
    uow.get(Remnant, remnant_id)
    if order.kind not in ("used", "thrown", "there"):
        raise Refused("kind", f"“{order.kind[:40]}” is not noted of a remnant; it is used, thrown or there")
    if uow.kept_already(RemnantNote, order.id, remnant_id=remnant_id, kind=order.kind) is None:
        uow.add(
            RemnantNote(id=order.id, remnant_id=remnant_id, kind=order.kind, cut_way_id=way, happened_at=now,
                        recorded_at=now)
        )  # fmt: skip
        uow.changed("cut", remnant_id)


def notes_of(uow: UnitOfWork) -> dict[str, RemnantNote]:
    """The last note on each remnant."""
    rows = uow.session.scalars(select(RemnantNote).order_by(RemnantNote.happened_at, RemnantNote.recorded_at))
    return {row.remnant_id: row for row in rows}


def on_the_shelf(uow: UnitOfWork) -> list[Remnant]:
    """The remnants that are there, oldest first."""
    notes = notes_of(uow)
    rows = uow.all(Remnant, Remnant.happened_at, Remnant.id)
    return [row for row in rows if row.id not in notes or notes[row.id].kind == "there"]


def rings_of(row: Remnant) -> Rings:
    """Its edges."""
    return tuple(tuple((x, y) for x, y in ring) for ring in row.rings)


def remnants_of(uow: UnitOfWork, sheet: str) -> list[Left]:
    """The remnants of a product that are there, as pieces are laid out on them."""
    return [Left(row.id, rings_of(row)) for row in on_the_shelf(uow) if row.data_sheet_id == sheet]

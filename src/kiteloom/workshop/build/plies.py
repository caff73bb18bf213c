"""A part's ply book, edited."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from kiteloom.core.base.fields import read
from kiteloom.core.base.problems import Refused, between, plain
from kiteloom.core.base.quantities import Typed, UnitSystem
from kiteloom.core.laminate.cover import cover_of
from kiteloom.core.laminate.stack import Ply, Stack, stack_code, true_angle
from kiteloom.core.laminate.zones import (
    INSERT,
    JOINTS,
    KINDS,
    MAY_LIE,
    NO_INSERT,
    STEP,
    THREADS,
    Band,
    Corner,
    Drawn,
    Zone,
    texts_of,
    zone_of,
    zone_says,
)
from kiteloom.core.shape.section import Side
from kiteloom.core.shape.skin import skin_of
from kiteloom.store.models import DataSheet, Job, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.jobs import hand_of, job_row, stack_of_job
from kiteloom.workshop.laminate.plies import PlyRow, book_of, stack_of
from kiteloom.workshop.shape.shapes import form_of


@dataclass(frozen=True)
class PlyEdit:
    """A ply as typed: a cloth and its angle as seen on this part."""

    cloth_id: str
    angle: Typed
    zone: str = ""
    stage: int = 1


@dataclass(frozen=True)
class ZoneEdit:
    """A zone as typed: its kind, and its figures by field; ``corners`` is a line each, along the span and the chord."""

    name: str
    kind: str = "band"
    texts: Mapping[str, str] = field(default_factory=dict)
    corners: str = ""


@dataclass(frozen=True)
class EditPlies:
    """A job's whole ply book, outside to inside."""

    version: int
    plies: tuple[PlyEdit, ...]
    job: str = ""
    core_id: str | None = None
    core_after: int = 0
    core_zone: str = ""
    zones: tuple[ZoneEdit, ...] = ()
    reason: str = ""
    """Why, where it is laid up already."""


def edit_plies(uow: UnitOfWork, part_id: str, order: EditPlies, now: datetime) -> Saved:
    """Replace the ply book of a part's job: all of it, or nothing.

    Angles are as seen on this part, so on a right-hand part they are mirrored back.
    """
    part = uow.get(Part, part_id)
    job = uow.get_for_edit(Job, job_row(part, order.job).id, order.version)
    before = stack_of_job(uow, job)
    book = typed_book(uow, part, order)
    after = stack_of(uow, book)
    _lies_on(part, after)
    if book != job.ply_book:
        job.ply_book = book
        uow.edited(job, _what_changed(before, after), now, "design")
    return Saved(job.version)


def typed_book(uow: UnitOfWork, part: Part, order: EditPlies) -> dict[str, Any]:
    """A ply book as typed, as it is kept; `Refused` by field."""
    hand, units = hand_of(part), units_of(uow)
    rows = []
    for number, ply in enumerate(order.plies):
        field = f"plies.{number}.angle"
        angle = between(field, ply.angle.read("angle", field), -180, 180, unit="°", name="the angle")
        if uow.get(DataSheet, ply.cloth_id).kind != "cloth":
            raise Refused(f"plies.{number}.cloth_id", f"“{uow.get(DataSheet, ply.cloth_id).name}” is not a cloth")
        rows.append(PlyRow(ply.cloth_id, true_angle(angle, hand), ply.zone, ply.stage))
    kept = [zone_of(says) for says in job_row(part, order.job).ply_book.get("zones", ())]
    by_name = {zone.name: zone for zone in kept}
    zones = [
        _read_zone(typed, n, units, by_name.get(typed.name) or (kept[n] if n < len(kept) else None))
        for n, typed in enumerate(order.zones)
    ]
    return book_of(rows, order.core_id, order.core_after, order.core_zone, zones)


#: What is asked of a zone besides its place.
BESIDE = ("step_m", "insert", "threads", "joints")


def _read_zone(typed: ZoneEdit, n: int, units: UnitSystem, kept: Zone | None) -> Zone:
    """A zone as typed; what still reads as the kept one does is kept to the last digit."""
    at, (_, kind) = f"zones.{n}", KINDS.get(typed.kind, ("", Band))
    same = kept if kept is not None and kept.place.kind == typed.kind else None
    as_kept, corners_kept = texts_of(same, units) if same is not None else ({}, "")
    texts = {name: text for name, text in typed.texts.items() if name not in BESIDE}
    says: dict[str, Any] = {"name": " ".join(typed.name.split())[:60], "kind": typed.kind}
    try:
        if kind is Drawn and same is not None and typed.corners == corners_kept:
            says["corners"] = zone_says(same)["corners"]
        elif kind is Drawn:
            says["corners"] = [_read_corner(line, units) for line in typed.corners.splitlines() if line.strip()]
        else:
            says |= read(kind, texts, units)
        step = typed.texts.get("step_m", "")
        says["step_m"] = STEP.value("step_m", step, units) if step.strip() else 0.0
        says["insert"] = INSERT.value("insert", typed.texts.get("insert", "").strip() or NO_INSERT, units)
        threads = typed.texts.get("threads", "").strip()
        says["threads"] = THREADS.value("threads", threads, units) if threads else 0
        says["joints"] = JOINTS.value("joints", typed.texts.get("joints", "").strip() or MAY_LIE, units)
    except Refused as refused:
        raise Refused(f"{at}.{refused.field}", refused.sentence) from None
    if same is not None:
        known = zone_says(same)
        says |= {name: known[name] for name, text in typed.texts.items() if text == as_kept.get(name) and name in known}
    return zone_of(says, n)


def _read_corner(line: str, units: UnitSystem) -> dict[str, float]:
    parts = [part for part in re.split(r"[;\t]|,\s", line) if part.strip()]
    if len(parts) != 2:
        raise Refused("corners", f"“{line[:40]}” is no corner; write how far along the span, then the share of the "
                      "chord: 0.4 m; 30 %")  # fmt: skip
    return read(Corner, dict(zip(("at_m", "share"), parts, strict=True)), units)


def _lies_on(part: Part, stack: Stack) -> None:
    """Every zone of a book lies on its part; `Refused` by field."""
    shape, side = part.design.shape, part.design.side
    if not stack.zones:
        return
    if shape is None:
        raise Refused("zones", f"{part.name} has no shape yet; a zone lies on one")
    sides: tuple[Side, ...] = ("upper", "lower") if side == "whole" else ("lower" if side == "lower" else "upper",)
    for each in sides:
        cover_of(stack, skin_of(form_of(shape), each))


def _names(stack: Stack) -> list[str]:
    def name(ply: Ply) -> str:
        where = f" on {ply.zone}" if ply.zone else ""
        return f"{ply.cloth.name} at {plain(true_angle(ply.angle_deg, 'left'))}°{where}"

    names = [name(ply) for ply in stack.plies]
    if stack.core:
        names.insert(stack.core_after, stack.core.name)
    return names


def _what_changed(before: Stack | None, after: Stack) -> list[str]:
    old, new = _names(before) if before else [], _names(after)
    gone, came = [n for n in old if old.count(n) > new.count(n)], [n for n in new if new.count(n) > old.count(n)]
    words = []
    if gone:
        words.append(f"took out {', '.join(gone)}")
    if came:
        words.append(f"put in {', '.join(came)}")
    zones = _zones_changed(before.zones if before else (), after.zones)
    if not words and old == new and zones:
        return [zones]
    said = [f"plies: {' and '.join(words) or 'put in another order'}, now {stack_code(after)}"]
    return [*said, zones] if zones else said


def _zones_changed(before: tuple[Zone, ...], after: tuple[Zone, ...]) -> str:
    was, now = ({zone.name: zone for zone in zones} for zones in (before, after))
    words = [f"new {name}" for name in now if name not in was]
    words += [f"{name} moved" for name, zone in now.items() if name in was and was[name] != zone]
    words += [f"without {name}" for name in was if name not in now]
    return f"zones: {', '.join(words)}" if words else ""

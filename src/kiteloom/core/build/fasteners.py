"""Fasteners in a row: how near to an edge and to each other, how long, and where each one sits.

References
----------
Sheet metal: FAA AC 43.13-1B chapter 4; the length of a solid rivet: FAA-H-8083-31 (both from memory). Laminates: common
practice.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.problems import Refused, between, plain
from kiteloom.core.base.quantities import UnitSystem, show, system_of

Kind = Literal["solid", "blind"]
Material = Literal["sheet metal", "laminate"]
#: A row whose pitch nobody says is set no wider than so many diameters (common practice) [-].
WIDEST = 6.0
#: A solid rivet is longer than its grip by so many diameters: its bucked tail is made of that [-].
TAIL = 1.5
#: More than this in one row is no joint that somebody drills.
MOST = 10_000
#: A figure this near to its limit is at it [mm].
_AT_MM = 1e-6


#: A hole marked, drilled, deburred and clecoed, and countersunk, by hand (common practice) [min].
DRILL_MIN, COUNTERSINK_MIN = 8.0, 5.0


def hole_minutes(count: int, *, countersunk: bool) -> float:
    """How long so many holes take by hand [min].

    >>> hole_minutes(36, countersunk=True)
    468.0
    """
    between("count", count, 0, MOST, name="the number of holes")
    return count * (DRILL_MIN + (COUNTERSINK_MIN if countersunk else 0.0))


@dataclass(frozen=True)
class Row:
    """One row: how many, how far apart, and where from one end [mm]."""

    count: int
    pitch_mm: float
    at_mm: tuple[float, ...]


@dataclass(frozen=True)
class Check:
    """What was given, or came out, against the least there may be."""

    what: Literal["edge", "pitch", "length", "layout"]
    ok: bool
    says: str


@dataclass(frozen=True)
class Fasteners:
    """How they are set. ``length_mm`` is a solid rivet's; None for a blind one, that is chosen by its grip."""

    edge_least_mm: float
    pitch_least_mm: float
    grip_mm: float
    length_mm: float | None
    washer: bool
    layout: Row | None
    checks: tuple[Check, ...]


def fasteners(
    kind: Kind,
    diameter_mm: float,
    material: Material,
    stack_mm: Sequence[float],
    *,
    countersunk: bool = False,
    rows: int = 1,
    edge_mm: float | None = None,
    pitch_mm: float | None = None,
    length_mm: float | None = None,
    span_mm: float | None = None,
    units: UnitSystem = "metric",
) -> Fasteners:
    """Edge distance, pitch, grip and length, and a row laid out over a span.

    Parameters
    ----------
    stack_mm : sequence of float
        What they go through, sheet by sheet [mm].
    edge_mm, pitch_mm, length_mm : float or None
        What is meant to be used, to be checked.
    span_mm : float or None
        From one end of the joint to the other; the row begins and ends an edge distance from them.
    units : UnitSystem
        What its sentences are in.

    Raises
    ------
    Refused
        By field, where a figure can't be, or the span is shorter than both edge distances.

    >>> found = fasteners("solid", 3.2, "sheet metal", [0.8, 1.0], span_mm=200, pitch_mm=20)
    >>> found.edge_least_mm, round(found.pitch_least_mm, 1), round(found.length_mm, 1), found.layout.count
    (6.4, 9.6, 6.6, 11)
    """
    _check(kind, material, diameter_mm, stack_mm, rows, (edge_mm, pitch_mm, length_mm, span_mm))
    grip = sum(stack_mm)
    if material == "laminate":
        edge_least, pitch_least = 3 * diameter_mm, 4 * diameter_mm
    else:
        edge_least = (2.5 if countersunk else 2.0) * diameter_mm
        pitch_least = (3.0 if rows == 1 else 4.0) * diameter_mm
    layout = None
    if span_mm is not None:
        layout = spread(span_mm, edge_least if edge_mm is None else edge_mm, pitch_mm or WIDEST * diameter_mm)
    checks = [
        *_against("edge", edge_mm, edge_least, "to the edge", units),
        *_against("pitch", pitch_mm, pitch_least, "apart", units),
        *_length(kind, length_mm, grip, diameter_mm, units),
    ]
    if layout is not None and layout.count > 1:
        checks += _against("layout", layout.pitch_mm, pitch_least, "apart as laid out", units)
    return Fasteners(
        edge_least,
        pitch_least,
        grip,
        grip + TAIL * diameter_mm if kind == "solid" else None,
        kind == "blind" and material == "laminate",
        layout,
        tuple(checks),
    )


#: A 100° head is wider than its shank by so much (common practice) [-].
_HEAD = 1.9


def countersink_leaves_mm(diameter_mm: float, thickness_mm: float) -> float:
    """What a countersink for a 100° head leaves of the sheet it is cut into [mm]; below 0 it goes through.

    >>> round(countersink_leaves_mm(3.2, 0.8), 2)
    -0.41
    """
    deep = (_HEAD - 1) / 2 * diameter_mm / math.tan(math.radians(50))
    return thickness_mm - deep


def spread(span_mm: float, edge_mm: float, widest_mm: float) -> Row:
    """A row over a span, first and last an edge distance from its ends, at equal pitch, as few as keep within a pitch.

    >>> spread(200, 10, 60)
    Row(count=4, pitch_mm=60.0, at_mm=(10.0, 70.0, 130.0, 190.0))
    """
    room = span_mm - 2 * edge_mm
    if room < -_AT_MM:
        raise Refused(
            "span_mm", f"the span is {plain(span_mm)} mm; at {plain(edge_mm)} mm from both ends no fastener fits on it"
        )
    gaps = math.ceil(max(room, 0.0) / widest_mm - 1e-9)
    if gaps >= MOST:
        takes = f"a span of {plain(span_mm)} mm would take {gaps + 1} fasteners"
        raise Refused("span_mm", f"{takes}; at most {MOST} are set")
    pitch = max(room, 0.0) / gaps if gaps else 0.0
    return Row(gaps + 1, pitch, tuple(round(edge_mm + n * pitch, 6) for n in range(gaps + 1)))


def _check(
    kind: str, material: str, diameter_mm: float, stack_mm: Sequence[float], rows: int, given: Sequence[float | None]
) -> None:
    if kind not in ("solid", "blind"):
        raise Refused("kind", f"“{kind[:40]}” is no kind of fastener; they are solid, blind")
    if material not in ("sheet metal", "laminate"):
        raise Refused("material", f"“{material[:40]}” is not known; they are sheet metal, laminate")
    between("diameter_mm", diameter_mm, 0, 50, unit="mm", name="the diameter", open_low=True)
    between("rows", rows, 1, 20, name="the number of rows")
    if not stack_mm:
        raise Refused("stack_mm", "the stack is empty; at least one thickness is wanted")
    for n, thickness in enumerate(stack_mm):
        between(f"stack_mm.{n}", thickness, 0, 500, unit="mm", name="a thickness", open_low=True)
    names = (("edge_mm", "the edge distance"), ("pitch_mm", "the pitch"), ("length_mm", "the length"),
             ("span_mm", "the span"))  # fmt: skip
    for (field, name), value in zip(names, given, strict=True):
        if value is not None:
            between(field, value, 0, 1e6, unit="mm", name=name, open_low=True)


def _said(value_mm: float, units: UnitSystem) -> str:
    return show(value_mm, "step", units) if system_of(units) == "us" else f"{plain(round(value_mm, 3))} mm"


def _against(
    what: Literal["edge", "pitch", "layout"], value: float | None, least: float, where: str, units: UnitSystem
) -> list[Check]:
    if value is None:
        return []
    ok = value >= least - _AT_MM
    than = "at least" if ok else "under the least,"
    return [Check(what, ok, f"{_said(value, units)} {where}: {than} {_said(least, units)}")]


def _length(kind: Kind, length_mm: float | None, grip: float, diameter_mm: float, units: UnitSystem) -> list[Check]:
    if length_mm is None:
        return []
    wanted = grip + TAIL * diameter_mm if kind == "solid" else grip
    ok = length_mm >= wanted - _AT_MM
    why = f"grip + {TAIL:g} diameters" if kind == "solid" else "its grip"
    than = "at least" if ok else "shorter than"
    return [Check("length", ok, f"{_said(length_mm, units)} long: {than} {why}, {_said(wanted, units)}")]

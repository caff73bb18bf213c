"""Saying what a joint ties and asks for, the row of its fasteners, and the gaps its dry fit showed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, field, replace
from datetime import datetime
from typing import Annotated

from kiteloom.core.base.fields import Asked, made, missing, read
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed, UnitSystem
from kiteloom.core.build.bond_line import Gap, gaps_checked
from kiteloom.core.build.fasteners import Fasteners, fasteners
from kiteloom.store.models import DryFit, Joint, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.built_from import no_circle
from kiteloom.workshop.build.joints import Tied, Ties
from kiteloom.workshop.build.parts import BuiltPart, built_part, built_parts, joints_in_order

#: The longest words for where on a part a face is; so many places a dry fit is read at.
LONGEST, MOST_GAPS = 80, 60


@dataclass(frozen=True)
class FaceSaid:
    """One face of a joint: of which part, where on it, and whether the joint fixes that part."""

    part_id: str
    where: str = ""
    fixes: bool = True


@dataclass(frozen=True)
class SayJoint:
    """What a joint ties and asks for: ids of parts, and of joints. ``version`` 0 where nothing was said of it before.

    ``fasteners`` is typed by field; all empty where it has none.
    """

    version: int
    faces: tuple[FaceSaid, ...]
    loose: tuple[str, ...] = ()
    located: tuple[str, ...] = ()
    after: tuple[str, ...] = ()
    shuts: tuple[str, ...] = ()
    fasteners: dict[str, str] = field(default_factory=dict)


_MM = {"dimension": "length", "scale": 1e-3, "unit": ("mm", "in")}


@dataclass(frozen=True)
class FastenersGiven:
    """A row of fasteners, as it is asked for."""

    kind: Annotated[str, Asked("Kind", "choice", choices=("solid", "blind"))]
    diameter_mm: Annotated[float, Asked("Diameter", **_MM, low=0.5, high=20)]
    material: Annotated[str, Asked("Through", "choice", choices=("sheet metal", "laminate"))]
    one_mm: Annotated[float, Asked("Thickness of one side", **_MM, low=0.1, high=200)]
    other_mm: Annotated[float, Asked("Thickness of the other", **_MM, low=0.1, high=200)]
    countersunk: Annotated[bool, Asked("Countersunk", "yes")] = False
    rows: Annotated[int, Asked("Rows", "count", low=1, high=6)] = 1
    edge_mm: Annotated[float | None, Asked("To the edge", **_MM, low=0.5, high=200)] = None
    pitch_mm: Annotated[float | None, Asked("Apart, at most", **_MM, low=1, high=500)] = None
    length_mm: Annotated[float | None, Asked("Length that is there", **_MM, low=0.5, high=200)] = None


def row_of(says: Mapping[str, object], length_m: float, units: UnitSystem = "metric") -> Fasteners | None:
    """A joint's row of fasteners over its length, said in units; None where it has none."""
    if not says:
        return None
    given = made(FastenersGiven, says)
    return fasteners(
        given.kind,  # type: ignore[arg-type]  # one of its choices
        given.diameter_mm,
        given.material,  # type: ignore[arg-type]
        [given.one_mm, given.other_mm],
        countersunk=given.countersunk,
        rows=given.rows,
        edge_mm=given.edge_mm,
        pitch_mm=given.pitch_mm,
        length_mm=given.length_mm,
        span_mm=1000 * length_m,
        units=units,
    )


def say_joint(uow: UnitOfWork, part_id: str, order: SayJoint, now: datetime) -> Saved:
    """Say what a joint ties; what can't be, or contradicts what others ask for, is refused."""
    found = {part.id: part for part in built_parts(uow)}
    if part_id not in found:
        raise Refused("part_id", f"{uow.get(Part, part_id).name} was taken out of its airframe; take it back first")
    mine = found[part_id]
    if mine.bonding is None:
        raise Refused("part_id", f"{mine.name} has no bonding job; add one, then say what it ties")
    ties = _ties(mine, order, found)
    says = {**asdict(ties), "fasteners": _fasteners(uow, mine, order.fasteners)}
    says = {name: list(value) if isinstance(value, tuple) else value for name, value in says.items()}
    row = uow.session.get(Joint, part_id)
    if row is not None and all(getattr(row, name) == value for name, value in says.items()):
        return Saved(row.version)  # pressed twice
    if row is not None:
        row = uow.get_for_edit(Joint, part_id, order.version)
    changed = {**found, part_id: replace(mine, ties=ties)}
    no_contradiction(changed)
    no_circle(changed)
    if row is None:
        uow.add(Joint(part_id=part_id, faces=[], updated_at=now))
        row = uow.get(Joint, part_id)
    for name, value in says.items():
        setattr(row, name, value)
    uow.edited(row, [f"{mine.name} ties {found[ties.faces[0].part_id].name} and "
                     f"{found[ties.faces[1].part_id].name}"], now, "part")  # fmt: skip
    return Saved(row.version)


def _ties(mine: BuiltPart, order: SayJoint, found: Mapping[str, BuiltPart]) -> Ties:
    if len(order.faces) != 2:
        raise Refused("faces", f"{len(order.faces)} faces are given; a joint has 2")
    faces = []
    for n, face in enumerate(order.faces):
        part = _there(f"faces.{n}.part_id", face.part_id, mine, found)
        where = " ".join(face.where.split())
        if len(where) > LONGEST:
            raise Refused(f"faces.{n}.where", f"“{where[:20]}…” is {len(where)} letters long; {LONGEST} is the most")
        faces.append(Tied(part.id, where, face.fixes))
    one, other = faces
    if one.part_id == other.part_id:
        name = found[one.part_id].name
        raise Refused("faces.1.part_id", f"both faces are of {name}; a joint ties two parts, not one with itself")
    if not one.fixes and not other.fixes:
        raise Refused("faces.0.fixes", "it fixes neither of the two; say which part is held by it afterwards")
    lists = {}
    for name, keys, kind in (("loose", order.loose, "part"), ("located", order.located, "part"),
                             ("after", order.after, "joint"), ("shuts", order.shuts, "joint")):  # fmt: skip
        lists[name] = tuple(dict.fromkeys(keys))
        for key in lists[name]:
            part = _there(name, key, mine, found)
            if kind == "joint" and part.ties is None:
                raise Refused(name, f"{part.name} is no joint; only joints are put in order here")
    both = set(lists["loose"]) & set(lists["located"])
    if both:
        raise Refused("located", f"{found[next(iter(both))].name} can't be loose and located at once")
    fixed = {face.part_id for part in found.values() if part.id != mine.id and part.ties for face in part.ties.faces
             if face.fixes}  # fmt: skip
    for key in lists["located"]:
        if key not in fixed:
            raise Refused("located", f"no other joint fixes {found[key].name}; say first which one does")
    return Ties(tuple(faces), **lists)


def _there(field_: str, key: str, mine: BuiltPart, found: Mapping[str, BuiltPart]) -> BuiltPart:
    part = found.get(key)
    if part is None or part.airframe_id != mine.airframe_id:
        raise Refused(field_, "that part is not there (any more) on this airframe; choose another")
    if part.id == mine.id:
        raise Refused(field_, f"{mine.name} is this joint itself; choose a part that it ties")
    return part


def _fasteners(uow: UnitOfWork, mine: BuiltPart, texts: Mapping[str, str]) -> dict[str, object]:
    typed = {name: text for name, text in texts.items() if text.strip()}
    if not set(typed) - {"kind", "material", "countersunk", "rows"}:
        return {}
    says = read(FastenersGiven, typed, units_of(uow))
    lacks = missing(FastenersGiven, says)
    if lacks:
        raise Refused("fasteners", f"not given yet: {', '.join(lacks)}")
    task = mine.bonding.task if mine.bonding is not None else None
    if task is not None:
        row_of(says, task.given.length_m)
    return says


def no_contradiction(found: Mapping[str, BuiltPart]) -> None:
    """Refuse joints of which no order does for all."""
    for joints in joints_in_order(found.values()).values():
        if joints.against:
            raise Refused("joints", joints.against)


@dataclass(frozen=True)
class GapTyped:
    """A gap as it was read: where along the joint, and how wide."""

    at: Typed
    gap: Typed


@dataclass(frozen=True)
class NoteDryFit:
    """What a dry fit showed, from putty or film: gaps along the joint. The client makes the id."""

    id: str
    gaps: tuple[GapTyped, ...]
    note: str = ""


def note_dry_fit(uow: UnitOfWork, part_id: str, order: NoteDryFit, now: datetime) -> Kept:
    """Keep the gaps of a dry fit; the last one counts. No gaps: it fits as it was planned."""
    if uow.kept_already(DryFit, order.id, part_id=part_id) is not None:
        return Kept(order.id)
    part = built_part(uow, part_id)
    task = part.bonding.task if part.bonding is not None else None
    if task is None:
        raise Refused("part_id", f"{part.name} has no bonding job whose length is known")
    if len(order.gaps) > MOST_GAPS:
        raise Refused("gaps", f"{len(order.gaps)} gaps are given; {MOST_GAPS} at the most are kept")
    gaps = [
        Gap(one.at.read("length", f"gaps.{n}.at"), 1000 * one.gap.read("length", f"gaps.{n}.gap"))
        for n, one in enumerate(order.gaps)
    ]
    rows = [asdict(gap) for gap in gaps_checked(gaps, task.given.length_m)]
    uow.add(DryFit(id=order.id, part_id=part_id, gaps=rows, note=order.note.strip()[:500], happened_at=now,
                   recorded_at=now))  # fmt: skip
    uow.changed("part", part_id)
    return Kept(order.id)

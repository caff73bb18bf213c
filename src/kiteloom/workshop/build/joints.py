"""What joints tie and ask for, and the order they are made in, airframe by airframe."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from sqlalchemy import select, text

from kiteloom.core.build.bond_line import Gap
from kiteloom.core.build.joint_order import Contradiction, Joint, Order, joint_order
from kiteloom.store.models import DryFit, Part
from kiteloom.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class Tied:
    """One of the two faces of a joint: the part it is of, where on it, and whether the joint fixes that part."""

    part_id: str
    where: str
    fixes: bool


@dataclass(frozen=True)
class Ties:
    """What a joint ties, and what must be so when it is made: ids of parts, and of other joints."""

    faces: tuple[Tied, ...]
    loose: tuple[str, ...] = ()
    located: tuple[str, ...] = ()
    after: tuple[str, ...] = ()
    shuts: tuple[str, ...] = ()


def ties_of(part: Part) -> Ties | None:
    """What a part ties that is a joint; None for one of which nobody has said it."""
    row = part.joint
    if row is None:
        return None
    faces = tuple(Tied(one["part_id"], one["where"], bool(one["fixes"])) for one in row.faces)
    return Ties(faces, tuple(row.loose), tuple(row.located), tuple(row.after), tuple(row.shuts))


def dry_fits(uow: UnitOfWork) -> Mapping[str, DryFit]:
    """The last dry fit of each joint, by its part."""

    def read() -> dict[str, DryFit]:
        return {row.part_id: row for row in uow.session.scalars(select(DryFit).order_by(text("rowid")))}

    return uow.once("dry fits", read)


def gaps_of(uow: UnitOfWork, part_id: str) -> tuple[Gap, ...]:
    """The gaps its last dry fit showed, in order; none where it was never fitted."""
    row = dry_fits(uow).get(part_id)
    return tuple(Gap(one["at_m"], one["gap_mm"]) for one in row.gaps) if row is not None else ()


@dataclass(frozen=True)
class Glued:
    """A joint among the others of its airframe: its part's id and name, and what it ties."""

    part_id: str
    name: str
    airframe_id: str
    ties: Ties


@dataclass(frozen=True)
class InOrder:
    """The joints of an airframe as they are made, by name; ``against`` says what contradicts itself, and which do."""

    order: Order | None
    ids: Mapping[str, str]
    """The part of each joint, by its name."""
    against: str = ""
    who: tuple[str, ...] = ()


def in_order_by_airframe(joints: Iterable[Glued], names: Mapping[str, str]) -> dict[str, InOrder]:
    """The order of joints in each airframe; ``names`` are those of all parts."""
    found: dict[str, list[Glued]] = defaultdict(list)
    for joint in joints:
        found[joint.airframe_id].append(joint)
    return {airframe: ordered(mine, names) for airframe, mine in found.items()}


def ordered(joints: Sequence[Glued], names: Mapping[str, str]) -> InOrder:
    """The order of some joints; what they name and is no longer there is passed over."""
    ids = {one.part_id: one.name for one in joints}
    fixed = {face.part_id for one in joints for face in one.ties.faces if face.fixes}
    asked = tuple(
        Joint(
            one.name,
            tuple(names.get(face.part_id, "?") for face in one.ties.faces if face.fixes),
            tuple(names.get(part, "?") for part in one.ties.loose),
            tuple(names.get(part, "?") for part in one.ties.located if part in fixed),
            tuple(ids[other] for other in one.ties.after if other in ids),
            tuple(ids[other] for other in one.ties.shuts if other in ids),
        )
        for one in joints
    )
    back = {name: key for key, name in ids.items()}
    try:
        return InOrder(_order(asked), back)
    except Contradiction as against:
        return InOrder(None, back, against.sentence, tuple(back[name] for name in against.names))


@lru_cache(maxsize=64)
def _order(joints: tuple[Joint, ...]) -> Order:
    return joint_order(joints)

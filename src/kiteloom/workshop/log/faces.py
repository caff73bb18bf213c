"""How the faces of joints are now, from the ticks of their run sheet and from steps that were finished."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Literal

from sqlalchemy import select, text

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.build.bond_line import GlueLine
from kiteloom.core.build.faces import ALL, FaceNow, face_now
from kiteloom.core.log.facts import Fact
from kiteloom.store.models import Tick
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import zone_here
from kiteloom.workshop.build.parts import BuiltPart
from kiteloom.workshop.log.notes import finished_at
from kiteloom.workshop.log.ticks import ticks_of

Which = Literal["one", "other"]
SIDES: tuple[Which, Which] = ("one", "other")


@dataclass(frozen=True)
class FaceOf:
    """One side of a joint: what it is called, of what it is, how it is now, and the moisture that was read of it."""

    which: Which
    name: str
    face: str
    now: FaceNow
    moist_pct: float | None = None


def faces_of(uow: UnitOfWork, part: BuiltPart, minute: float) -> tuple[FaceOf, ...]:
    """Both sides of a joint as they are; none where it can't be made yet."""
    job = part.bonding
    if job is None or job.task is None or job.cant:
        return ()
    given: GlueLine = job.task.given
    key = part.faces_ready
    ticks, ended = _ticks(uow, part.id, key), finished_at(uow, part.id).get(key)
    found = []
    for which, name, face in zip(SIDES, job.task.faces, (given.one, given.other), strict=True):
        mine = [(row.item.removeprefix(f"{which}/"), row) for row in ticks if row.item.startswith(f"{which}/")]
        done = [(item, minute_of(row.happened_at)) for item, row in mine]
        if ended is not None:
            done.append((ALL, ended))
        now = face_now(face, sorted(done, key=lambda one: one[1]), minute, wet=given.wet)
        read = [row.moisture_pct for item, row in mine if row.moisture_pct is not None and item in now.counts]
        found.append(FaceOf(which, name, face, now, read[-1] if read else None))
    return tuple(found)


def ticks_that_count(uow: UnitOfWork, part: BuiltPart, step_key: str, minute: float) -> dict[str, Tick]:
    """The ticks of a step's run sheet; of faces only those that still hold."""
    ticks = ticks_of(uow, part.id, step_key)
    if step_key != part.faces_ready:
        return ticks
    counts = {f"{face.which}/{key}" for face in faces_of(uow, part, minute) for key in face.now.counts}
    return {item: tick for item, tick in ticks.items() if item in counts}


def _ticks(uow: UnitOfWork, part_id: str, key: str) -> list[Tick]:
    """All ticks of a run sheet that were not taken back, in the order they were kept."""
    if uow.writes:
        query = select(Tick).where(Tick.part_id == part_id, Tick.step_key == key)
        return _standing(uow.session.scalars(query.order_by(text("rowid"))))
    return uow.once("ticks of faces", lambda: _by_step(uow)).get((part_id, key), [])


def _by_step(uow: UnitOfWork) -> Mapping[tuple[str, str], list[Tick]]:
    query = select(Tick).where(Tick.item.contains("/")).order_by(text("rowid"))
    rows: dict[tuple[str, str], list[Tick]] = defaultdict(list)
    for row in uow.session.scalars(query):
        rows[row.part_id, row.step_key].append(row)
    return {key: _standing(mine) for key, mine in rows.items()}


def _standing(rows: Iterable[Tick]) -> list[Tick]:
    found: list[Tick] = []
    for row in rows:
        if row.done:
            found.append(row)
            continue
        at = next((n for n in range(len(found) - 1, -1, -1) if found[n].item == row.item), None)
        if at is not None:
            del found[at]
    return found


def not_ready(uow: UnitOfWork, part: BuiltPart, minute: float) -> list[FaceOf]:
    """The sides of a joint that were made ready once, and are not ready any more."""
    return [
        face for face in faces_of(uow, part, minute)
        if face.now.state in ("expired", "contaminated") or (face.now.state == "bare" and face.now.last)
    ]  # fmt: skip


def lost_faces(uow: UnitOfWork, found: Iterable[BuiltPart], facts: Mapping[str, Fact], minute: float) -> frozenset[str]:
    """Steps that made faces ready which are not ready any more, their joints not yet bonded: to be done again."""
    lost = set()
    for part in found:
        if not part.bond or part.bond in facts:
            continue
        key = f"{part.id}:{part.faces_ready}"
        if key in facts and facts[key].done and not_ready(uow, part, minute):
            lost.add(key)
    return frozenset(lost)


def speaks_against_faces(uow: UnitOfWork, part: BuiltPart, minute: float) -> str:
    """Why a joint should not be bonded now; ``""`` where nothing speaks against it."""
    zone = zone_here(uow)
    words = [
        f"{face.name} is {face.now.words(lambda at: when(at, zone, minute))}" for face in not_ready(uow, part, minute)
    ]
    return f"{'; '.join(words)}. Make it ready again, or say why it goes all the same" if words else ""

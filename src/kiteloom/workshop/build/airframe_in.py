"""An airframe's file taken in: looked at first, by the same way that takes it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from sqlalchemy import select

from kiteloom.core.base.fields import made
from kiteloom.core.base.problems import Refused
from kiteloom.core.shape import reading
from kiteloom.core.shape.place import Place
from kiteloom.core.stores.form import cleaned, differences, same
from kiteloom.formats.airframe_file import (
    JOINED,
    WEIGHED,
    AirframeFile,
    FileAssembly,
    FileDesign,
    FilePart,
    FileShape,
    Sheet,
    read_airframe,
)
from kiteloom.store.models import (
    Assembly,
    Batch,
    DataSheet,
    Design,
    Link,
    Part,
    Project,
    Shape,
)
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.built_from import no_circle
from kiteloom.workshop.build.carried_in import Weighed, What
from kiteloom.workshop.build.jobs_in import Jobs
from kiteloom.workshop.build.joint_edits import no_contradiction
from kiteloom.workshop.build.joints_in import take_joint
from kiteloom.workshop.build.masses import checked_arm, hinge_of
from kiteloom.workshop.build.parts import built_parts
from kiteloom.workshop.shape.shapes import form_of

#: What goes wrong where a file says something of another kind than is read there.
_UNREADABLE = (TypeError, ValueError, KeyError, AttributeError, IndexError, OverflowError, ZeroDivisionError)


@dataclass(frozen=True)
class AirframeRow:
    """One thing of a file, against the shop."""

    kind: Literal["data sheet", "shape", "design", "assembly", "part", "joint", "carried", "limits"]
    name: str
    what: What
    words: list[str]


@dataclass(frozen=True)
class AirframeLooked:
    """A file: what each thing of it would do, whether it was taken, and that in a sentence."""

    airframe_id: str
    name: str
    rows: list[AirframeRow]
    taken: bool
    sentence: str


@dataclass(frozen=True)
class TakeAirframe:
    """A file of an airframe; looked at only, until told to take it. What differs is taken only where told to."""

    text: str
    take: bool = False
    replace: bool = False


def take_airframe(uow: UnitOfWork, order: TakeAirframe, now: datetime) -> AirframeLooked:
    """Take a file in, or look at what that would do: the same is done, and then let go of.

    All of it or nothing; the same file again changes nothing.
    """
    doc = read_airframe(order.text)
    taking = _Taking(uow, doc, order.replace, now)
    taking.all()
    refused = [row for row in taking.rows if row.what == "refused"]
    keep = order.take and not refused
    news = any(row.what == "new" or (row.what == "differs" and order.replace) for row in taking.rows)
    if not (keep and (news or not taking.known)):
        uow.session.rollback()
    return AirframeLooked(taking.airframe_id, doc.name, taking.rows, keep, _sentence(taking.rows, order, keep))


def _sentence(rows: list[AirframeRow], order: TakeAirframe, taken: bool) -> str:
    counts = {what: sum(row.what == what for row in rows) for what in ("new", "same", "differs", "refused")}
    named = {
        "new": "new",
        "same": "here already, the same",
        "differs": "here already, saying something else",
        "refused": "that can't be taken",
    }
    said = ", ".join(f"{count} {named[what]}" for what, count in counts.items() if count) or "nothing"
    if counts["refused"] and order.take:
        return f"Nothing was taken: {said}."
    if not taken:
        return f"The file has {said}."
    left = "" if order.replace or not counts["differs"] else " What differs was left as it is here."
    return f"Taken: {said}.{left}"


class _Taking:
    """One file being taken, row by row."""

    def __init__(self, uow: UnitOfWork, doc: AirframeFile, replace: bool, now: datetime) -> None:
        self.uow, self.doc, self.replace, self.now = uow, doc, replace, now
        self.rows: list[AirframeRow] = []
        self.jobs = Jobs(uow, now)
        known = uow.session.get(Project, doc.id) or next(
            (row for row in uow.all(Project) if row.name.lower() == doc.name.lower()), None
        )
        self.airframe_id = known.id if known is not None else doc.id
        self.known = known is not None
        self._mixed = {part for (part,) in uow.session.execute(select(Batch.part_id).distinct())}

    def all(self) -> None:
        """Everything, in the order in which one thing rests on another."""
        uow, doc = self.uow, self.doc
        if not self.known:
            uow.add(Project(id=doc.id, name=doc.name, rank=len(uow.all(Project)), updated_at=self.now))
        for sheet in doc.sheets:
            self._row("data sheet", sheet.name, lambda s=sheet: self._sheet(s))
        for shape in doc.shapes:
            self._row("shape", shape.name, lambda s=shape: self._shape(s))
        for design in doc.designs:
            self._row("design", design.name, lambda d=design: self._design(d))
        for rank, assembly in enumerate(doc.assemblies, 1):
            self._row("assembly", assembly.name, lambda a=assembly, r=rank: self._assembly(a, r))
        last = max((part.rank for part in uow.all(Part)), default=0)
        for rank, part in enumerate(doc.parts, last + 1):
            self._row("part", part.name, lambda p=part, r=rank: self._part(p, r))
        for part in doc.parts:
            self._row("part", part.name, lambda p=part: self._links(p), only_refused=True)
        if doc.version >= WEIGHED:
            weighed = Weighed(uow, self.airframe_id, self.replace, self.now)
            self._row("limits", "datum and limits", lambda: weighed.limits(doc.limits))
            for item in doc.carried:
                self._row("carried", item.name, lambda i=item: weighed.item(i))
        if doc.version >= JOINED:
            names = {part.id: part.name for part in doc.parts}
            for joint in doc.joints:
                take = lambda j=joint: take_joint(uow, j, self.replace, self.now)  # noqa: E731
                self._row("joint", names.get(joint.part, joint.part), take)
        if not any(row.what == "refused" for row in self.rows):
            uow.session.flush()
            uow.session.expire_all()
            self._row("part", doc.name, self._built, only_refused=True)
        uow.changed("airframe", self.airframe_id)

    def _built(self) -> tuple[What, list[str]]:
        """Every part with the jobs it has now: what was kept unread, like losses, is read here."""
        found = {part.id: part for part in built_parts(self.uow)}
        no_contradiction(found)
        no_circle(found)
        for part in found.values():
            _ = part.needs
        return "same", []

    def _row(self, kind: Any, name: str, take: Any, *, only_refused: bool = False) -> None:
        try:
            what, words = take()
        except Refused as refused:
            what, words = "refused", [refused.sentence]
        except _UNREADABLE as wrong:
            what, words = "refused", [f"what it says can't be read ({type(wrong).__name__}: {str(wrong)[:60]})"]
        if what == "refused" or not only_refused:
            self.rows.append(AirframeRow(kind, name, what, words))

    def _sheet(self, sheet: Sheet) -> tuple[What, list[str]]:
        kept, problems = cleaned(sheet.kind, sheet.name, sheet.says)
        if problems:
            raise problems[0]
        query = select(DataSheet).where(DataSheet.kind == sheet.kind, DataSheet.name == sheet.name)
        known = self.uow.session.scalar(query)
        if known is None:
            key = stable_id("sheet", f"{sheet.kind}/{sheet.name}")
            self.uow.add(DataSheet(id=key, kind=sheet.kind, name=sheet.name, says=kept, updated_at=self.now))
            self.uow.changed("sheet", key)
            self.jobs.sheets[(sheet.kind, sheet.name)] = key
            return "new", []
        self.jobs.sheets[(sheet.kind, sheet.name)] = known.id
        words = [] if same(known.says, kept) else differences(sheet.kind, known.says, kept, units_of(self.uow))
        if words:
            return "differs", [*words, "the sheet on this shelf is used; change it under Stores if the file is right"]
        return "same", []

    def _shape(self, shape: FileShape) -> tuple[What, list[str]]:
        new = reading.shape(shape.kind, shape.says)
        known = self.uow.session.get(Shape, shape.id)
        if known is None:
            row = Shape(id=shape.id, name=shape.name, kind=shape.kind, says=shape.says, updated_at=self.now)
            self.uow.add(row)
            return "new", []
        if form_of(known) == new and known.says.get("ribs") == shape.says.get("ribs"):
            return "same", []
        if self.replace:
            query = select(Part.id).join(Design).where(Design.shape_id == known.id)
            self._not_laid(set(self.uow.session.scalars(query)), known.name)
            known.kind, known.says = shape.kind, shape.says
            self.uow.edited(known, ["as the file says"], self.now, "shape")
        return "differs", ["its measures"]

    def _not_laid(self, parts: set[str], name: str) -> None:
        if parts & self._mixed:
            raise Refused("file", f"{name} is laid up already; change it on its own page, with the reason")

    def _design(self, design: FileDesign) -> tuple[What, list[str]]:
        uow, known = self.uow, self.uow.session.get(Design, design.id)
        if design.shape is not None and uow.session.get(Shape, design.shape) is None:
            raise Refused("file", f"its shape “{design.shape[:40]}” is not in the file")
        if known is None:
            hinge_of(design.hinge)
            row = Design(id=design.id, shape_id=design.shape, name=design.name, side=design.side,
                         hinge=design.hinge, updated_at=self.now)  # fmt: skip
            uow.add(row)
            for job in design.jobs:
                self.jobs.add(job, design_id=design.id)
            uow.session.expire(row, ["jobs"])
            return "new", []
        words = self.jobs.differ([job for job in known.jobs if job.hidden_at is None], design.jobs)
        if (known.shape_id, known.side) != (design.shape, design.side):
            words.append("its shape or side")
        hinged = self.doc.version >= WEIGHED and known.hinge != design.hinge
        if hinged:
            hinge_of(design.hinge)
            words.append("its hinge")
        if words and self.replace:
            self._not_laid(set(uow.session.scalars(select(Part.id).where(Part.design_id == known.id))), known.name)
            known.shape_id, known.side = design.shape, design.side
            known.hinge = design.hinge if hinged else known.hinge
            self.jobs.replaced(known.jobs, design.jobs, design_id=known.id)
            uow.edited(known, ["as the file says"], self.now, "design")
            uow.session.expire(known, ["jobs"])
        return ("differs", words) if words else ("same", [])

    def _assembly(self, assembly: FileAssembly, rank: int) -> tuple[What, list[str]]:
        known = self.uow.session.get(Assembly, assembly.id)
        if known is None:
            row = Assembly(
                id=assembly.id, project_id=self.airframe_id, name=assembly.name, rank=rank, updated_at=self.now
            )
            self.uow.add(row)
            return "new", []
        if known.project_id != self.airframe_id:
            raise Refused("file", f"“{known.name}” belongs to another airframe of this shop")
        if known.name == assembly.name:
            return "same", []
        words = [f"its name: {known.name} → {assembly.name}"]
        if self.replace:
            known.name = assembly.name
            self.uow.edited(known, words, self.now, "airframe")
        return "differs", words

    def _part(self, part: FilePart, rank: int) -> tuple[What, list[str]]:
        uow = self.uow
        for kind, key, table in (("assembly", part.assembly, Assembly), ("design", part.design, Design)):
            if uow.session.get(table, key) is None:
                raise Refused("file", f"its {kind} “{key[:40]}” is not in the file")
        if part.place:
            made(Place, part.place)
        if part.arm_m is not None:
            checked_arm(part.arm_m)
        known = uow.session.get(Part, part.id)
        if known is None:
            taken = next((row for row in uow.all(Part) if self._same_name(row, part.name)), None)
            if taken is not None:
                raise Refused("file", f"there is another part called “{taken.name}” in {self.doc.name} already")
            row = Part(
                id=part.id,
                assembly_id=part.assembly,
                design_id=part.design,
                hand=part.hand,
                name=part.name,
                rank=rank,
                thing=part.thing,
                place=part.place,
                arm_m=part.arm_m,
                updated_at=self.now,
            )
            uow.add(row)
            for job in part.jobs:
                self.jobs.add(job, part_id=part.id)
            uow.changed("part", part.id)
            return "new", []
        mine = (known.assembly_id, known.design_id, known.hand, known.name, known.thing, known.place)
        theirs = (part.assembly, part.design, part.hand, part.name, part.thing, part.place)
        named = ("its assembly", "its design", "its hand", "its name", "what it is turned with", "its place")
        words = [name for name, one, other in zip(named, mine, theirs, strict=True) if one != other]
        armed = self.doc.version >= WEIGHED and known.arm_m != part.arm_m
        words += ["its arm"] if armed else []
        words += self.jobs.differ([job for job in known.jobs if job.hidden_at is None], part.jobs)
        said = [(link.part, link.step) for link in part.after]
        if [(link.other_id, link.step_key) for link in known.links] != said:
            words.append("what it is built from")
        if words and self.replace:
            if known.design_id != part.design or known.hand != part.hand:
                self._not_laid({known.id}, known.name)
            known.assembly_id, known.design_id, known.hand = part.assembly, part.design, part.hand
            known.name, known.thing, known.place = part.name, part.thing, part.place
            known.arm_m = part.arm_m if armed else known.arm_m
            self.jobs.replaced(known.jobs, part.jobs, part_id=known.id)
            uow.edited(known, ["as the file says"], self.now, "part")
        return ("differs", words) if words else ("same", [])

    def _same_name(self, row: Part, name: str) -> bool:
        here = row.hidden_at is None and row.assembly.project_id == self.airframe_id
        return here and row.name.lower() == name.lower()

    def _links(self, part: FilePart) -> tuple[What, list[str]]:
        row = self.uow.session.get(Part, part.id)
        if row is None:
            return "same", []
        new = [(link.part, link.step) for link in part.after]
        if [(link.other_id, link.step_key) for link in row.links] == new or (row.links and not self.replace):
            return "same", []
        for other, _ in new:
            if self.uow.session.get(Part, other) is None:
                raise Refused("file", f"it is built from “{other[:40]}”, which is no part of the file")
        row.links.clear()
        self.uow.session.flush()
        row.links += [Link(rank=n, step_key=step, other_id=other) for n, (other, step) in enumerate(new)]
        return "same", []

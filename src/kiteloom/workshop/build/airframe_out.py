"""A whole airframe written out as one file."""

from __future__ import annotations

from kiteloom.formats.airframe_file import (
    AirframeFile,
    FileAssembly,
    FileDesign,
    FileFace,
    FileItem,
    FileJob,
    FileJoint,
    FileLink,
    FilePart,
    FilePly,
    FileShape,
    Sheet,
    SheetRef,
    write_airframe,
)
from kiteloom.store.models import DataSheet, Job, Joint, MassItem, Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.build.airframes import assemblies_of, parts_here
from kiteloom.workshop.build.masses import items_of


def export_airframe(uow: UnitOfWork, airframe_id: str) -> str:
    """An airframe as a file's text; the same for the same airframe."""
    project = uow.get(Project, airframe_id)
    parts = parts_here(uow, project.id)
    designs = {part.design_id: part.design for part in parts}
    shapes = {design.shape.id: design.shape for design in designs.values() if design.shape is not None}
    sheets: dict[str, DataSheet] = {}
    ids = {part.id for part in parts}
    doc = AirframeFile(
        id=project.id,
        name=project.name,
        limits=project.limits,
        carried=[file_item(item) for item in items_of(uow, project.id)],
        shapes=[FileShape(id=row.id, name=row.name, kind=row.kind, says=row.says) for row in shapes.values()],  # type: ignore[arg-type]
        designs=[
            FileDesign(
                id=row.id,
                name=row.name,
                shape=row.shape_id,
                side=row.side,  # type: ignore[arg-type]
                hinge=row.hinge,
                jobs=[file_job(uow, job, sheets) for job in row.jobs if job.hidden_at is None],
            )
            for row in designs.values()
        ],
        assemblies=[FileAssembly(id=row.id, name=row.name) for row in assemblies_of(uow, project.id)],
        parts=[
            FilePart(
                id=part.id,
                name=part.name,
                assembly=part.assembly_id,
                design=part.design_id,
                hand=part.hand,  # type: ignore[arg-type]
                thing=part.thing,
                place=part.place,
                arm_m=part.arm_m,
                jobs=[file_job(uow, job, sheets) for job in part.jobs if job.hidden_at is None],
                after=[FileLink(part=link.other_id, step=link.step_key) for link in part.links if link.other_id in ids],
            )
            for part in parts
        ],
        joints=[file_joint(part.joint) for part in parts if part.joint is not None and _there(part.joint, ids)],
    )
    rows = sorted(sheets.values(), key=lambda row: (row.kind, row.name))
    doc.sheets = [Sheet(kind=row.kind, name=row.name, says=dict(row.says)) for row in rows]
    return write_airframe(doc)


def _there(joint: Joint, ids: set[str]) -> bool:
    """Whether both parts it ties are written too."""
    return all(face["part_id"] in ids for face in joint.faces)


def file_joint(joint: Joint) -> FileJoint:
    """What a joint ties, as the file has it."""
    return FileJoint(
        part=joint.part_id,
        faces=[FileFace(part=one["part_id"], where=one["where"], fixes=one["fixes"]) for one in joint.faces],
        loose=joint.loose,
        located=joint.located,
        after=joint.after,
        shuts=joint.shuts,
        fasteners=joint.fasteners,
    )


def file_item(item: MassItem) -> FileItem:
    """Something carried as the file has it."""
    return FileItem(id=item.id, name=item.name, grams=item.grams, aft_m=item.aft_m, load=item.load)


def file_job(uow: UnitOfWork, job: Job, sheets: dict[str, DataSheet]) -> FileJob:
    """A job as the file has it; the sheets it uses are added to ``sheets``."""

    def ref(sheet: DataSheet) -> SheetRef:
        sheets[sheet.id] = sheet
        return SheetRef(kind=sheet.kind, name=sheet.name)

    book = job.ply_book
    core = uow.get(DataSheet, book["core_id"]) if book.get("core_id") else None
    return FileJob(
        key=job.key,
        recipe=job.recipe,
        rank=job.rank,
        given=job.given,
        products={row.role: ref(row.data_sheet) for row in sorted(job.products, key=lambda row: row.role)},
        plies=[
            FilePly(
                cloth=ref(uow.get(DataSheet, row["cloth_id"])).name,
                angle_deg=float(row["angle_deg"]),
                zone=row.get("zone", ""),
                stage=row.get("stage", 1),
            )
            for row in book.get("plies", ())
        ],
        core=ref(core).name if core else None,
        core_after=int(book.get("core_after") or 0),
        core_zone=book.get("core_zone", ""),
        zones=book.get("zones", []),
        losses=job.losses,
        step_edits=job.step_edits,
    )

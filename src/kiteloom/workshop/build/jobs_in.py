"""The jobs of an airframe's file, taken in: compared with those that are here, added, and replaced where told to."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import select

from kiteloom.core.base.fields import asked_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.build.recipes import recipe_of
from kiteloom.core.laminate.zones import zone_of
from kiteloom.formats.airframe_file import FileJob
from kiteloom.store.models import DataSheet, Job, JobProduct
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.build.airframe_out import file_job
from kiteloom.workshop.laminate.plies import PlyRow, book_of, stack_of


class Jobs:
    """Jobs being taken; ``sheets`` are the ids of data sheets by kind and name, those of the file first."""

    def __init__(self, uow: UnitOfWork, now: datetime) -> None:
        self.uow, self.now = uow, now
        self.sheets: dict[tuple[str, str], str] = {}

    def differ(self, known: list[Job], jobs: list[FileJob]) -> list[str]:
        """What of the jobs here is not as the file has it, in words."""
        sheets: dict[str, DataSheet] = {}
        mine = [file_job(self.uow, job, sheets) for job in known]
        if [job.key for job in mine] != [job.key for job in jobs]:
            return [f"{len(mine)} jobs here, {len(jobs)} in the file"]
        return [f"its job “{job.recipe}”" for job, other in zip(mine, jobs, strict=True) if job != other]

    def replaced(self, known: list[Job], jobs: list[FileJob], **of: str) -> None:
        """The jobs as the file has them: what has no counterpart there is hidden, not lost."""
        by_key = {job.key: job for job in known}
        for job in jobs:
            row = by_key.pop(job.key, None)
            if row is None:
                self.add(job, **of)
            else:
                self._give(row, job)
        for row in by_key.values():
            row.hidden_at = row.hidden_at or self.now

    def add(self, job: FileJob, design_id: str | None = None, part_id: str | None = None) -> None:
        """A new job, of a design or of one part."""
        row = Job(
            id=stable_id("job", f"{design_id or part_id}/{job.key}"),
            design_id=design_id,
            part_id=part_id,
            key=job.key,
            recipe=job.recipe,
            rank=job.rank,
            updated_at=self.now,
        )
        self._give(row, job)
        self.uow.add(row)

    def _give(self, row: Job, job: FileJob) -> None:
        recipe = recipe_of(job.recipe)
        for name, (asked, _) in asked_of(recipe.given).items():
            if job.given.get(name) is not None:
                asked.within(name, job.given[name])
        row.recipe, row.rank, row.given = job.recipe, job.rank, job.given
        row.losses, row.step_edits, row.hidden_at = job.losses, job.step_edits, None
        roles = {role.key for role in recipe.roles}
        for role in job.products:
            if role not in roles:
                raise Refused(
                    "file", f"job “{job.key}” has a product as “{role[:40]}”; {recipe.name} does not ask for it"
                )
        row.products = [
            JobProduct(role=role, data_sheet_id=self._sheet_id(ref.kind, ref.name))
            for role, ref in job.products.items()
        ]
        row.ply_book = {}
        if job.plies:
            row.ply_book = self._book(job)
            stack_of(self.uow, row.ply_book)  # whether it holds together

    def _book(self, job: FileJob) -> dict[str, Any]:
        plies = [PlyRow(self._sheet_id("cloth", ply.cloth), ply.angle_deg, ply.zone, ply.stage) for ply in job.plies]
        core = self._sheet_id("core", job.core) if job.core else None
        zones = [zone_of(says, n) for n, says in enumerate(job.zones)]
        return book_of(plies, core, job.core_after, job.core_zone, zones)

    def _sheet_id(self, kind: str, name: str) -> str:
        """The sheet of that kind and name: of the file, or on this shop's shelf."""
        if (kind, name) not in self.sheets:
            query = select(DataSheet.id).where(DataSheet.kind == kind, DataSheet.name == name)
            found = self.uow.session.scalar(query)
            if found is None:
                raise Refused("file", f"the {kind} “{name}” is neither in the file nor on this shelf")
            self.sheets[(kind, name)] = found
        return self.sheets[(kind, name)]

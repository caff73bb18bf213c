"""Setting up: projects, shapes, designs, parts, data sheets, lots and people."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from kiteloom.core.air.building import ZoneModel
from kiteloom.core.shape import reading
from kiteloom.core.shape.loft import Planform, straight
from kiteloom.core.stores.form import cleaned
from kiteloom.core.stores.lots import counted_in
from kiteloom.store.models import (
    Assembly,
    CrewMember,
    DataSheet,
    Design,
    Job,
    JobProduct,
    Link,
    Lot,
    Part,
    Project,
    Shape,
    Shop,
    Station,
    Zone,
)
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.base.shop import the_shop
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.laminate.plies import stack_of
from kiteloom.workshop.shape.shapes import form_of


@dataclass(frozen=True)
class Founding:
    """Adds what a shop starts with, at one moment."""

    uow: UnitOfWork
    now: datetime

    def shop(self, name: str, zone: str, hours: list[dict[str, int]]) -> Shop:
        """Name the shop and say when it works."""
        shop = the_shop(self.uow)
        shop.name, shop.zone, shop.hours, shop.updated_at = name, zone, list(hours), self.now
        return shop

    def data_sheet(self, kind: str, name: str, says: dict[str, Any]) -> str:
        """Keep what a maker says of a product, once the core can read it."""
        kept, problems = cleaned(kind, name, says)
        if problems:
            raise problems[0]
        key = stable_id("sheet", name)
        self.uow.add(DataSheet(id=key, kind=kind, name=name, says=kept, updated_at=self.now))
        return key

    def lot(
        self,
        sheet_id: str,
        number: str,
        received: date,
        expires: date | None,
        amount: float | None = None,
        component: str = "both",
    ) -> str:
        """Receive a lot: so much of it in what it is counted in."""
        key, sheet = stable_id("lot", sheet_id, number), self.uow.get(DataSheet, sheet_id)
        self.uow.add(
            Lot(
                id=key,
                data_sheet_id=sheet_id,
                lot_number=number,
                received_on=received,
                expires_on=expires,
                received=amount,
                measure=counted_in(sheet.says, sheet.kind),
                component=component,
            )
        )
        return key

    def crew_member(self, name: str, *skills: str, hours: list[dict[str, int]] | None = None) -> str:
        """Welcome somebody, with hours of their own where they are not the shop's."""
        key = stable_id("crew", name)
        self.uow.add(CrewMember(id=key, name=name, skills=list(skills), hours=hours or [], updated_at=self.now))
        return key

    def station(self, key: str, name: str, capacity: int, zone: str | None = None) -> None:
        """A place or device that serves as what recipes call by its key, and the zone whose air it has."""
        self.uow.add(Station(id=key, name=name, capacity=capacity, zone_id=zone, serves=[key], updated_at=self.now))

    def zone(
        self, key: str, name: str, model: ZoneModel, heat: tuple[int, int] = (0, 0), longest_m: float | None = None
    ) -> None:
        """A part of the shop with its own air; its heater runs from one minute of the day to another."""
        row = self.uow.session.get(Zone, key)
        if row is None:
            row = Zone(id=key, rank=len(self.uow.all(Zone)))
            self.uow.session.add(row)
        row.name, row.lag_h, row.gain_k, row.heat_c = name, model.lag_h, model.gain_k, model.heat_c
        row.heat_from, row.heat_to, row.updated_at = *heat, self.now
        row.longest_m = longest_m

    def assembly(self, project: str, name: str, rank: int) -> str:
        """An assembly, and its project when that is new."""
        project_id, key = stable_id("project", project), stable_id("assembly", project, name)
        if self.uow.session.get(Project, project_id) is None:
            self.uow.add(Project(id=project_id, name=project, updated_at=self.now))
        self.uow.add(Assembly(id=key, project_id=project_id, name=name, rank=rank, updated_at=self.now))
        return key

    def panel(self, name: str, planform: dict[str, float], root: dict[str, Any], tip: dict[str, Any]) -> str:
        """A straight panel as a shape."""
        loft = straight(Planform(**planform), reading.section(root), reading.section(tip))
        return self.shape(name, "loft", {"stations": [reading.station_says(row) for row in loft.stations]})

    def shape(self, name: str, kind: str, says: dict[str, Any]) -> str:
        """A shape of any kind, as it is kept."""
        key = stable_id("form", name)
        shape = Shape(id=key, name=name, kind=kind, says=says, updated_at=self.now)
        form_of(shape)
        self.uow.add(shape)
        return key

    def design(self, shape_id: str | None, name: str, side: str) -> str:
        """What left and right share: a shape and which side of it; jobs are added to it."""
        key = stable_id("design", shape_id or "", name)
        self.uow.add(Design(id=key, shape_id=shape_id, name=name, side=side, updated_at=self.now))
        return key

    def job(
        self,
        design_id: str,
        recipe: str,
        products: dict[str, str],
        given: dict[str, Any] | None = None,
        ply_book: dict[str, Any] | None = None,
        key: str = "",
    ) -> str:
        """A way of building, after those the design has; losses are common practice until the shop says otherwise.

        ``products`` are the ids of their sheets by role.
        """
        rows = self.uow.get(Design, design_id).jobs
        if ply_book is not None:
            stack_of(self.uow, ply_book)
        job = Job(
            id=stable_id("job", design_id, key),
            design_id=design_id,
            key=key,
            rank=len(rows),
            recipe=recipe,
            given=given or {},
            ply_book=ply_book or {},
            losses={},
            step_edits={},
            updated_at=self.now,
        )
        job.products = [JobProduct(role=role, data_sheet_id=sheet) for role, sheet in products.items()]
        self.uow.add(job)
        self.uow.session.expire(self.uow.get(Design, design_id), ["jobs"])
        return job.id

    def part(
        self,
        assembly_id: str,
        design_id: str,
        hand: str,
        name: str,
        rank: int,
        after: Iterable[tuple[str, str]] = (),
        thing: str = "",
        place: dict[str, Any] | None = None,
    ) -> str:
        """A physical part; ``after`` are parts that a step of it is built from, and that step's key."""
        key = stable_id("surface", design_id, hand)
        links = [Link(rank=rank, step_key=step, other_id=other) for rank, (other, step) in enumerate(after)]
        self.uow.add(
            Part(
                id=key,
                assembly_id=assembly_id,
                design_id=design_id,
                hand=hand,
                name=name,
                rank=rank,
                links=links,
                thing=thing,
                place=place or {},
                updated_at=self.now,
            )
        )
        built_part(self.uow, key)
        self.uow.changed("part", key)
        return key

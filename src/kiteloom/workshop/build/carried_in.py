"""What an airframe's file says of weight and balance, taken in: its limits, and what it carries besides its parts."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from kiteloom.core.base.problems import Refused
from kiteloom.formats.airframe_file import FileItem
from kiteloom.store.models import MassItem, Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.build.airframe_out import file_item
from kiteloom.workshop.build.masses import checked_item, limits_of, room_for

What = Literal["new", "same", "differs", "refused"]


@dataclass(frozen=True)
class Weighed:
    """The airframe it is taken for, and whether what differs is replaced."""

    uow: UnitOfWork
    airframe_id: str
    replace: bool
    now: datetime

    def limits(self, says: Mapping[str, Any]) -> tuple[What, list[str]]:
        """Its datum and limits; where nobody said any here, the file's."""
        limits_of(says)
        row = self.uow.get(Project, self.airframe_id)
        if row.limits == says:
            return "same", []
        differs = bool(row.limits)
        if self.replace or not differs:
            row.limits = dict(says)
            self.uow.edited(row, ["as the file says"], self.now, "airframe")
        return ("differs", ["its datum or limits"]) if differs else ("new", [])

    def item(self, item: FileItem) -> tuple[What, list[str]]:
        """Something it carries."""
        uow = self.uow
        name, grams, aft = checked_item(item.name, item.grams, item.aft_m)
        known = uow.session.get(MassItem, item.id)
        if known is None:
            room_for(uow, self.airframe_id)
            uow.add(MassItem(id=item.id, project_id=self.airframe_id, name=name, grams=grams, aft_m=aft,
                             load=item.load, updated_at=self.now))  # fmt: skip
            uow.changed("weight", self.airframe_id)
            return "new", []
        if known.project_id != self.airframe_id:
            raise Refused("file", f"“{known.name}” is carried by another airframe of this shop")
        if known.hidden_at is None and file_item(known) == item:
            return "same", []
        if self.replace:
            known.name, known.grams, known.aft_m, known.load, known.hidden_at = name, grams, aft, item.load, None
            uow.edited(known, [f"{name}: as the file says"], self.now, "weight")
        return "differs", ["taken away here" if known.hidden_at is not None else "what it weighs, or where it lies"]

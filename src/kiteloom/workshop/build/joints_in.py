"""What joints tie in an airframe's file, taken in."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from kiteloom.core.base.fields import made
from kiteloom.core.base.problems import Refused
from kiteloom.formats.airframe_file import FileJoint
from kiteloom.store.models import Joint, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.build.airframe_out import file_joint
from kiteloom.workshop.build.carried_in import What
from kiteloom.workshop.build.joint_edits import FastenersGiven


def take_joint(uow: UnitOfWork, joint: FileJoint, replace: bool, now: datetime) -> tuple[What, list[str]]:
    """What a joint ties; one that says something else here is replaced only where told to."""
    parts = [joint.part, *(face.part for face in joint.faces), *joint.loose, *joint.located, *joint.after, *joint.shuts]
    for key in parts:
        if uow.session.get(Part, key) is None:
            raise Refused("file", f"it names “{key[:40]}”, which is no part of the file")
    if joint.faces[0].part == joint.faces[1].part:
        raise Refused("file", "both its faces are of one part; a joint ties two")
    if joint.fasteners:
        made(FastenersGiven, joint.fasteners)
    says: dict[str, Any] = {
        "faces": [{"part_id": face.part, "where": face.where, "fixes": face.fixes} for face in joint.faces],
        **{name: list(getattr(joint, name)) for name in ("loose", "located", "after", "shuts")},
        "fasteners": joint.fasteners,
    }
    known = uow.session.get(Joint, joint.part)
    if known is None:
        uow.add(Joint(part_id=joint.part, updated_at=now, **says))
        uow.changed("part", joint.part)
        return "new", []
    if file_joint(known) == joint:
        return "same", []
    if replace:
        for name, value in says.items():
            setattr(known, name, value)
        uow.edited(known, ["as the file says"], now, "part")
    return "differs", ["what it ties"]

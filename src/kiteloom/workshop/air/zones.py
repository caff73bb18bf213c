"""A zone's heater and building, edited."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.air.building import ZoneModel
from kiteloom.core.air.room import LONGEST
from kiteloom.core.base.calendar import clock_minutes
from kiteloom.core.base.fields import Asked, asked_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed
from kiteloom.store.models import Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.base.shop import units_of

#: What is edited of a zone, in order: the model's fields, and the heater's hours by what they are called.
MODEL = {"heat": "heat_c", "lag": "lag_h", "gain": "gain_k", "longest": "longest_m"}
HOURS = {"heat_from": "Heater from", "heat_to": "Heater until"}
FIELDS = ("heat", *HOURS, "lag", "gain", "longest")
#: What a zone may be without: no heater, and no limit of what goes in.
EMPTY = ("heat", "longest")


def asked_for(field: str) -> Asked:
    """What a field of the model asks."""
    return LONGEST if field == "longest" else asked_of(ZoneModel)[MODEL[field]][0]


@dataclass(frozen=True)
class EditZone:
    """What to change of a zone, as typed; an empty set point is no heater."""

    version: int
    fields: dict[str, Typed]


def edit_zone(uow: UnitOfWork, zone_id: str, order: EditZone, now: datetime) -> Saved:
    """Change how a zone follows the weather, or its heater."""
    zone, fields = uow.get_for_edit(Zone, zone_id, order.version), order.fields
    words, units = [], units_of(uow)
    for field, typed in fields.items():
        if field not in FIELDS:
            raise Refused(field, f"“{field}” is not a field of a zone; they are {', '.join(FIELDS)}")
        if field in HOURS:
            label = HOURS[field]
            setattr(zone, field, clock_minutes(typed.text, field))
        else:
            asked, none = asked_for(field), field in EMPTY and not typed.text.strip()
            label, value = asked.label, None if none else asked.meant(field, typed, units)
            setattr(zone, MODEL[field], value)
        words.append(f"{zone.name}: {label.lower()} {typed.text.strip() or 'nothing'}")
    if fields:
        uow.edited(zone, words, now, "zone")
    return Saved(zone.version)

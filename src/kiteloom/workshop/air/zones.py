"""A zone's heater and building, edited."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.air.building import ZoneModel
from kiteloom.core.base.calendar import clock_minutes
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed
from kiteloom.store.models import Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.base.shop import units_of

FIELDS = {
    "heat": "Heater holds",
    "heat_from": "Heater from",
    "heat_to": "Heater until",
    "lag": "Follows the weather within",
    "gain": "Warmer than outside by",
}


#: The model's own names for what these fields say.
_BELONGS = {"heat_c": "heat", "lag_h": "lag", "gain_k": "gain"}


@dataclass(frozen=True)
class EditZone:
    """What to change of a zone, as typed; an empty set point is no heater."""

    version: int
    fields: dict[str, Typed]


def edit_zone(uow: UnitOfWork, zone_id: str, order: EditZone, now: datetime) -> Saved:
    """Change how a zone follows the weather, or its heater."""
    zone, fields = uow.get_for_edit(Zone, zone_id, order.version), order.fields
    us = units_of(uow) == "us"
    words = []
    for field, typed in fields.items():
        if field not in FIELDS:
            raise Refused(field, f"“{field}” is not a field of a zone; they are {', '.join(FIELDS)}")
        words.append(f"{zone.name}: {FIELDS[field].lower()} {typed.text.strip() or 'nothing'}")
        if field == "heat":
            zone.heat_c = typed.read("temperature", "heat") if typed.text.strip() else None
        elif field in ("heat_from", "heat_to"):
            setattr(zone, field, clock_minutes(typed.text, field))
        elif field == "lag":
            zone.lag_h = typed.read("time", "lag") / 60
        else:
            try:
                zone.gain_k = float(typed.text.replace(",", ".").replace("K", "")) / (1.8 if us else 1)
            except ValueError:
                raise Refused("gain", f"“{typed.text}” isn't a number of degrees; write it like 2.5") from None
    try:
        ZoneModel(zone.lag_h, zone.gain_k, zone.heat_c)
    except Refused as refused:
        raise Refused(_BELONGS.get(refused.field, refused.field), refused.sentence) from None
    if fields:
        uow.edited(zone, words, now, "zone")
    return Saved(zone.version)

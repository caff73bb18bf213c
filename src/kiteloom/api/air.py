"""The air: zones, what was said of the weather, loggers' files, windows; and where parts are. Thin."""

from __future__ import annotations

from pathlib import Path

from kiteloom.api.house import Routes, now, store
from kiteloom.core.base.calendar import minute_of
from kiteloom.views.air import shots, zones
from kiteloom.views.cure import place
from kiteloom.workshop.air import climate, imports, parts, staging
from kiteloom.workshop.air.zones import EditZone, edit_zone
from kiteloom.workshop.base.saved import Kept, Saved

bp = Routes("air", "Air")


@bp.get("/climate/zones")
@bp.gives(zones.ZonesView)
def read_zones() -> zones.ZonesView:
    """Each zone's air, recorded and expected."""
    with store().reading() as uow:
        return zones.zones_view(uow, now())


@bp.patch("/climate/zones/<zone_id>")
@bp.takes(EditZone)
@bp.gives(Saved)
def change_zone(zone_id: str, order: EditZone) -> Saved:
    """Change how a zone follows the weather, or its heater."""
    with store().writing() as uow:
        return edit_zone(uow, zone_id, order, now())


def _incoming() -> Path:
    return store().path.parent / "incoming"


def _content(order: imports.TakeFile) -> str:
    return order.text if order.text is not None else staging.staged(_incoming(), order.id)


@bp.get("/climate/zones/<zone_id>/learnt")
@bp.gives(zones.LearntView)
def learn_zone(zone_id: str) -> zones.LearntView:
    """What a zone's record says of how it follows the weather; nothing is kept."""
    with store().reading() as uow:
        return zones.learnt_view(uow, zone_id, now())


@bp.post("/climate/previews")
@bp.takes(imports.TakeFile)
@bp.gives(imports.Preview)
def preview(order: imports.TakeFile) -> imports.Preview:
    """Look at a file; nothing of it is taken."""
    if order.text is not None:
        staging.stage(_incoming(), order.id, order.text)
    content = staging.staged(_incoming(), order.id)
    with store().reading() as uow:
        return imports.preview(uow, order, content, minute_of(now()))


@bp.post("/climate/imports")
@bp.takes(imports.TakeFile)
@bp.gives(imports.Imported, 201)
def import_logger(order: imports.TakeFile) -> imports.Imported:
    """Take in a logger's file: all or nothing."""
    content = _content(order)
    with store().writing() as uow:
        taken = imports.take(uow, order, content, now())
    staging.unstage(_incoming(), order.id)
    return taken


@bp.get("/climate/imports/<import_id>/far")
@bp.gives(staging.Far)
def far(import_id: str) -> staging.Far:
    """How far a running import is."""
    return staging.TALLY.far(import_id)


@bp.post("/climate/imports/<import_id>/stop")
@bp.gives(staging.Far)
def stop(import_id: str) -> staging.Far:
    """Stop a running import; nothing of it is taken."""
    staging.TALLY.stop(import_id)
    return staging.TALLY.far(import_id)


@bp.post("/climate/outlooks")
@bp.takes(climate.SayOutlook)
@bp.gives(Kept, 201)
def say_outlook(order: climate.SayOutlook) -> Kept:
    """Keep a low and a high."""
    with store().writing() as uow:
        return climate.say_outlook(uow, order, now())


@bp.get("/climate/shots")
@bp.gives(shots.UsualShot)
def usual_shot() -> shots.UsualShot:
    """The sequence that is offered first."""
    with store().reading() as uow:
        return shots.usual_shot(uow)


@bp.post("/climate/shots")
@bp.takes(shots.ShotOrder)
@bp.gives(shots.ShotsView)
def find_shots(order: shots.ShotOrder) -> shots.ShotsView:
    """When the whole sequence fits unbroken, in the coming week."""
    with store().reading() as uow:
        return shots.shots(uow, order, now())


@bp.post("/parts/<part_id>/place")
@bp.takes(parts.MovePart)
@bp.gives(place.PartAirView, 201)
def move_part(part_id: str, order: parts.MovePart) -> place.PartAirView:
    """Move a part to another zone; its cure goes on at that zone's temperature."""
    with store().writing() as uow:
        parts.move_part(uow, part_id, order, now())
    with store().reading() as uow:
        return place.part_air_view(uow, part_id, now())


@bp.post("/parts/<part_id>/temperature")
@bp.takes(parts.ReadPart)
@bp.gives(place.PartAirView, 201)
def read_part(part_id: str, order: parts.ReadPart) -> place.PartAirView:
    """Keep a part's own temperature; it wins over the air's."""
    with store().writing() as uow:
        parts.read_part(uow, part_id, order, now())
    with store().reading() as uow:
        return place.part_air_view(uow, part_id, now())

"""The air: zones, what was said of the weather, and loggers' files. Thin."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

from apiflask import APIBlueprint
from pydantic import BaseModel, RootModel

from kiteloom.api.house import TypedIn, now, store
from kiteloom.core.base.calendar import minute_of
from kiteloom.views.air import shots, zones
from kiteloom.workshop.air import climate, imports
from kiteloom.workshop.air import zones as air_zones
from kiteloom.workshop.air.climate import MAIN
from kiteloom.workshop.base.saved import Saved

bp = APIBlueprint("air", __name__, url_prefix="/api/v1/climate", tag="Air")


class ZonesOut(RootModel[zones.ZonesView]):
    """Every zone."""


class ZoneSavedOut(RootModel[Saved]):
    """A save."""


class PreviewOut(RootModel[imports.Preview]):
    """A file, understood."""


class ImportedOut(RootModel[imports.Imported]):
    """What a file brought."""


class FarOut(RootModel[imports.Far]):
    """How far a long file is."""


@bp.get("/zones")
@bp.output(ZonesOut)
def read_zones() -> zones.ZonesView:
    """Each zone's air, recorded and expected."""
    with store().reading() as uow:
        return zones.zones_view(uow, now())


class ZoneIn(BaseModel):
    """What to change of a zone, as typed; an empty heater is none."""

    version: int
    fields: dict[str, TypedIn]


@bp.patch("/zones/<zone_id>")
@bp.input(ZoneIn)
@bp.output(ZoneSavedOut)
def edit_zone(zone_id: str, json_data: ZoneIn) -> Saved:
    """Change how a zone follows the weather, or its heater."""
    fields = {name: typed.value() for name, typed in json_data.fields.items()}
    with store().writing() as uow:
        return air_zones.edit_zone(uow, zone_id, json_data.version, fields, now())


class ChoicesIn(BaseModel):
    """How a file is to be read; what is left out is guessed. A humidity column of −1 is none."""

    time: int | None = None
    temp: int | None = None
    humidity: int | None = None
    unit: Literal["°C", "°F"] | None = None
    order: Literal["year first", "day first", "month first"] | None = None
    clock: Literal["shop", "winter", "utc"] | None = None

    def value(self) -> imports.Choices:
        """As the workshop takes them."""
        return imports.Choices(**self.model_dump())


class FileIn(BaseModel):
    """A logger's file: its text when it is new, and how to read it."""

    id: str
    name: str
    zone: str = climate.MAIN
    text: str | None = None
    choices: ChoicesIn = ChoicesIn()


def _incoming() -> Path:
    return store().path.parent / "incoming"


@bp.post("/previews")
@bp.input(FileIn)
@bp.output(PreviewOut)
def preview(json_data: FileIn) -> imports.Preview:
    """Look at a file; nothing of it is taken."""
    if json_data.text is not None:
        imports.stage(_incoming(), json_data.id, json_data.text)
    content = imports.staged(_incoming(), json_data.id)
    with store().reading() as uow:
        return imports.preview(
            uow, json_data.id, json_data.name, content, json_data.zone, json_data.choices.value(), minute_of(now())
        )


class ImportIn(FileIn):
    """A logger's file to take; ``without_bad`` leaves out what can't be read."""

    without_bad: bool = False


@bp.post("/imports")
@bp.input(ImportIn)
@bp.output(ImportedOut, status_code=201)
def import_logger(json_data: ImportIn) -> imports.Imported:
    """Take in a logger's file: all or nothing."""
    content = json_data.text if json_data.text is not None else imports.staged(_incoming(), json_data.id)
    with store().writing() as uow:
        return imports.take(
            uow,
            json_data.id,
            json_data.name,
            content,
            now(),
            json_data.zone,
            json_data.choices.value(),
            without_bad=json_data.without_bad,
        )


@bp.get("/imports/<import_id>/far")
@bp.output(FarOut)
def far(import_id: str) -> imports.Far:
    """How far a running import is."""
    return imports.TALLY.far(import_id)


@bp.post("/imports/<import_id>/stop")
@bp.output(FarOut)
def stop(import_id: str) -> imports.Far:
    """Stop a running import; nothing of it is taken."""
    imports.TALLY.stop(import_id)
    return imports.TALLY.far(import_id)


class OutlookIn(BaseModel):
    """Tonight's low and tomorrow's high, as typed."""

    id: str
    low: TypedIn
    high: TypedIn
    zone: str = climate.MAIN


class KeptOut(BaseModel):
    """That it was kept."""

    id: str


@bp.post("/outlooks")
@bp.input(OutlookIn)
@bp.output(KeptOut, status_code=201)
def say_outlook(json_data: OutlookIn) -> dict[str, str]:
    """Keep a low and a high."""
    with store().writing() as uow:
        low, high = json_data.low.value(), json_data.high.value()
        climate.say_outlook(uow, json_data.id, low, high, now(), json_data.zone)
    return {"id": json_data.id}


class UsualShotOut(RootModel[shots.UsualShot]):
    """The sequence that is offered first."""


class ShotsOut(RootModel[shots.ShotsView]):
    """Windows of the coming week."""


class ShotPartIn(BaseModel):
    """One part of a sequence, as typed."""

    name: str
    minutes: TypedIn
    hands_on: bool


class ShotIn(BaseModel):
    """A sequence and its limits, as typed."""

    zone: str = MAIN
    parts: list[ShotPartIn]
    least: TypedIn
    most: TypedIn
    most_rh: TypedIn


@bp.get("/shots")
@bp.output(UsualShotOut)
def usual_shot() -> shots.UsualShot:
    """The sequence that is offered first."""
    with store().reading() as uow:
        return shots.usual_shot(uow)


@bp.post("/shots")
@bp.input(ShotIn)
@bp.output(ShotsOut)
def find_shots(json_data: ShotIn) -> shots.ShotsView:
    """When the whole sequence fits unbroken, in the coming week."""
    parts = tuple(shots.ShotPart(p.name, p.minutes.value(), p.hands_on) for p in json_data.parts)
    order = shots.ShotOrder(
        json_data.zone, parts, json_data.least.value(), json_data.most.value(), json_data.most_rh.value()
    )
    with store().reading() as uow:
        return shots.shots(uow, order, now())

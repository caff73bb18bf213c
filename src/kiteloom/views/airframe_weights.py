"""An airframe weighed together: every part now and when all is done, what else it carries, its centre of gravity."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.fields import asked_of
from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.weight.part import Band, stands
from kiteloom.core.weight.whole import Carried, Limits, Whole, against, whole_of
from kiteloom.store.models import MassItem, Part, Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.part.weight import arm_figure, band_words
from kiteloom.workshop.base.saying import AsText
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.airframes import parts_here
from kiteloom.workshop.build.masses import items_of, limits_of
from kiteloom.workshop.build.parts import BuiltPart, built_parts, read_at_once
from kiteloom.workshop.log.hinges import balance_care
from kiteloom.workshop.log.weighings import jobs_weighed, weighings


@dataclass(frozen=True)
class PartWeighs:
    """A part: now, when all is done, between what, how far aft, and its moment about the datum."""

    id: str
    name: str
    assembly: str
    now: Figure
    whole: Figure
    band: str
    arm: Figure | None
    moment_kg_m: float | None
    weighed: bool
    care: list[str]


@dataclass(frozen=True)
class ItemWeighs:
    """Something carried, as it is and as text."""

    id: str
    version: int
    name: str
    grams: float
    aft_m: float
    moment_kg_m: float
    load: bool
    weighs: str
    aft: str


@dataclass(frozen=True)
class Says:
    """A sentence, and whether what it says holds."""

    words: str
    holds: bool


@dataclass(frozen=True)
class Stage:
    """The airframe at one time: its weight with its band, and its centre of gravity."""

    name: str
    weighs: Figure
    band: str
    cg: Figure | None
    moment: Figure
    says: list[Says]


@dataclass(frozen=True)
class AirframeWeights:
    """All of it. ``length_m`` is what is drawn: from the nose to behind the last part."""

    id: str
    version: int
    name: str
    parts: list[PartWeighs]
    items: list[ItemWeighs]
    stages: list[Stage]
    limits: list[AsText]
    fore_m: float | None
    aft_m: float | None
    datum_m: float
    length_m: float
    units: list[str]
    """What a bare weight and a bare place are meant in."""
    lacks: list[str]
    caution: str


CAUTION = (
    "What is computed is no weighing: the finished airframe is weighed on scales before it flies. Its limits belong "
    "to the designer and the licensed inspector."
)


def airframe_weights(uow: UnitOfWork, airframe_id: str) -> AirframeWeights:
    """An airframe's weights."""
    airframe, units = uow.get(Project, airframe_id), units_of(uow)
    limits = limits_of(airframe.limits)
    read_at_once(uow)
    ids = {part.id: part for part in parts_here(uow, airframe.id)}
    parts: list[PartWeighs] = []
    now: list[Carried] = []
    done: list[Carried] = []
    for built in built_parts(uow):
        row = ids.get(built.id)
        if row is None:
            continue
        weighed = jobs_weighed(uow, built)
        on, whole = stands(weighed)
        arm = arm_figure(row, built)
        aft = arm.value if arm is not None else None
        now.append(Carried(built.name, on, aft))
        done.append(Carried(built.name, whole, aft))
        parts.append(_part(uow, row, built, on, whole, arm, limits, units))
    items = [_item(row, limits, units) for row in items_of(uow, airframe.id)]
    fitted = [Carried(item.name, _exactly(item.grams), item.aft_m) for item in items if not item.load]
    loads = [Carried(item.name, _exactly(item.grams), item.aft_m) for item in items if item.load]
    stages = [
        _stage("What is on it now", [*now, *fitted], limits, units),
        _stage("When all is done", [*done, *fitted], limits, units),
    ]
    if loads:
        stages.append(_stage("Done, with its loads", [*done, *fitted, *loads], limits, units))
    no_place = [part.name for part in parts if part.arm is None and (part.whole.value or 0) > 0]
    no_weight = [part.name for part in parts if not (part.whole.value or 0) > 0]
    lacks = []
    if no_place:
        lacks.append(f"No place yet, so not in the centre of gravity: {', '.join(no_place)}.")
    if no_weight:
        lacks.append(f"Nothing of these is computed or weighed yet: {', '.join(no_weight)}.")
    asked = asked_of(Limits)
    return AirframeWeights(
        airframe.id,
        airframe.version,
        airframe.name,
        parts,
        items,
        stages,
        [
            AsText(name, one.label, one.text(airframe.limits[name], units) if name in airframe.limits else "",
                   one.unit_for(units))
            for name, (one, _) in asked.items()
        ],
        limits.fore_m,
        limits.aft_m,
        limits.datum_m,
        1.05 * max([*(one.aft_m for one in done if one.aft_m is not None), limits.aft_m or 0.0, 1.0]),
        ["oz", "in"] if units == "us" else ["kg", "m"],
        lacks,
        CAUTION,
    )  # fmt: skip


def _exactly(grams: float) -> Band:
    return Band(grams, grams, grams)


def _part(
    uow: UnitOfWork, row: Part, built: BuiltPart, on: Band, whole: Band, arm: Figure | None, limits: Limits,
    units: UnitSystem,
) -> PartWeighs:  # fmt: skip
    aft = arm.value if arm is not None else None
    moment = None if aft is None else whole.grams / 1000 * (aft - limits.datum_m)
    care = balance_care(uow, built) if row.design.hinge else []
    return PartWeighs(
        row.id,
        row.name,
        built.assembly,
        Figure("now", "Now", on.grams, "mass", "its last weighing + what was put on since"),
        Figure("whole", "When done", whole.grams, "mass", "its last weighing + what is still to be put on"),
        band_words(whole, units),
        arm,
        moment,
        bool(weighings(uow, row.id)),
        care,
    )


def _item(row: MassItem, limits: Limits, units: UnitSystem) -> ItemWeighs:
    kilos = asked_of(Limits)["most_g"][0].text(row.grams, units)
    place = asked_of(Limits)["datum_m"][0].text(row.aft_m, units)
    moment = row.grams / 1000 * (row.aft_m - limits.datum_m)
    return ItemWeighs(row.id, row.version, row.name, row.grams, row.aft_m, moment, row.load, kilos, place)


def _stage(name: str, carried: list[Carried], limits: Limits, units: UnitSystem) -> Stage:
    whole: Whole = whole_of(carried, limits)
    given = tuple(Given(one.name, one.weighs.grams, "mass") for one in carried if one.weighs.grams > 0)
    cg = None
    if whole.cg_m is not None:
        placed = tuple(
            Given(one.name, f"{show(one.weighs.grams, 'mass', units)} at {show(one.aft_m, 'length', units)}", "words")
            for one in carried
            if one.aft_m is not None and one.weighs.grams > 0
        )
        cg = Figure("cg", "Centre of gravity, aft of the nose", whole.cg_m, "length", "Σ moments ÷ Σ weights", placed,
                    "FAA-H-8083-1, the moment method (from memory)")  # fmt: skip
    return Stage(
        name,
        Figure("weighs", name, whole.weighs.grams, "mass", "Σ parts and what is carried", given),
        band_words(whole.weighs, units),
        cg,
        Figure("moment", "Moment about the datum", whole.moment_kg_m, "moment", "Σ weight × (place − datum)",
               (Given("datum aft of the nose", limits.datum_m, "length"),)),
        [Says(words, holds) for words, holds in against(whole, limits, units)],
    )  # fmt: skip

"""The shop's irons: what was read of each, the line through it, and its dial for what the cloths and tapes ask."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import show
from kiteloom.core.build.iron import dial_words
from kiteloom.store.models import DataSheet, Iron
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.log.irons import calibration_of, irons_of, readings_of
from kiteloom.workshop.stores.sheets import sheets

#: What sheets ask of an iron, as it is called there.
_ASKS = (
    ("cover cloth", "slack_c", "slack out"),
    ("cover cloth", "finish_c", "finish"),
    ("cover cloth", "limit_c", "never above"),
    ("tape", "tack_c", "tack"),
    ("tape", "finish_c", "finish"),
    ("tape", "limit_c", "never above"),
)


@dataclass(frozen=True)
class IronReadingView:
    """One reading."""

    id: str
    dial: float
    celsius: float
    words: str


@dataclass(frozen=True)
class Asked:
    """A temperature that a product asks for, and where this iron's dial stands then."""

    product: str
    what: str
    temperature: str
    dial: str
    limit: bool


@dataclass(frozen=True)
class IronView:
    """An iron; ``line`` is dial and temperature at both ends of what was read [-, °C], empty without a calibration."""

    id: str
    version: int
    name: str
    sentence: str
    readings: list[IronReadingView]
    line: list[tuple[float, float]]
    asked: list[Asked]


@dataclass(frozen=True)
class IronsView:
    """All irons."""

    irons: list[IronView]
    caution: str


_CAUTION = (
    "The cloth maker’s temperatures decide, read with a thermometer on the iron’s sole, not off its dial. "
    "No solvent open near a hot iron."
)


def irons_view(uow: UnitOfWork, now: datetime) -> IronsView:
    """Every iron that is not put away."""
    asked = [
        (sheet, what, sheet.says[key], key == "limit_c")
        for kind, key, what in _ASKS
        for sheet in sheets(uow, kind)
        if sheet.says.get(key) is not None
    ]
    asked.sort(key=lambda one: (one[0].name, one[2]))
    return IronsView([_iron(uow, iron, asked, now) for iron in irons_of(uow)], _CAUTION)


def _iron(uow: UnitOfWork, iron: Iron, asked: list[tuple[DataSheet, str, float, bool]], now: datetime) -> IronView:
    zone, units = zone_here(uow), units_of(uow)
    rows = readings_of(uow).get(iron.id, [])
    shown = [
        IronReadingView(row.id, row.dial, row.temp_c, f"dial {row.dial:g}: {show(row.temp_c, 'temperature', units)}, "
                        f"{when(minute_of(row.happened_at), zone, minute_of(now))}")
        for row in rows
    ]  # fmt: skip
    try:
        line = calibration_of(uow, iron)
    except Refused as refused:
        return IronView(iron.id, iron.version, iron.name, f"Not calibrated yet: {refused.sentence}.", shown, [], [])
    age = (minute_of(now) - minute_of(rows[-1].happened_at)) / 1440
    per = show(line.per_dial, "difference", units)
    last = when(minute_of(rows[-1].happened_at), zone, minute_of(now))
    sentence = f"{per} for each mark of its dial; calibrated {last}."
    ends = sorted(row.dial for row in rows)
    return IronView(
        iron.id,
        iron.version,
        iron.name,
        sentence,
        shown,
        [(dial, line.start_c + line.per_dial * dial) for dial in (ends[0], ends[-1])],
        [
            Asked(sheet.name, what, show(celsius, "temperature", units), dial_words(line, celsius, age, units), limit)
            for sheet, what, celsius, limit in asked
        ],
    )

"""The rows. Quantities are SI with the unit in the column's name; times are UTC minutes or moments.

What is edited in place carries a ``version`` that a stale save fails on. What happened is
append-only: triggers of the first migration refuse an update or a delete.
"""

from kiteloom.store.models.air import (
    Forecast,
    Heating,
    Outlook,
    PartPlace,
    PartTemperature,
    Temperature,
    TemperatureImport,
    TemperatureReplaced,
    Zone,
)
from kiteloom.store.models.base import Base, Change, Edit, Edited, Fact, Shop, UtcMoment
from kiteloom.store.models.build import Assembly, Design, Job, JobProduct, Joint, Link, Part, PartCheck, Project
from kiteloom.store.models.cut import CutLayout, CutPlan, CutWay, PieceCut, Remnant, RemnantNote, WayCut
from kiteloom.store.models.log import (
    Batch,
    BatchNote,
    Decision,
    Deviation,
    DryFit,
    Judgement,
    Measured,
    Photo,
    Reading,
    TakenBack,
    Tick,
    Witness,
    Work,
)
from kiteloom.store.models.plan import Absence, Alert, CrewMember, Delivery, KeptPlan, Pin, StandingOrder, Station
from kiteloom.store.models.shape import Shape
from kiteloom.store.models.stores import DataSheet, Lot, LotNote, Pump
from kiteloom.store.models.weight import HingeReading, MassItem, Weighing

__all__ = [
    "Absence",
    "Alert",
    "Assembly",
    "Base",
    "Batch",
    "BatchNote",
    "Change",
    "CrewMember",
    "CutLayout",
    "CutPlan",
    "CutWay",
    "DataSheet",
    "Decision",
    "Delivery",
    "Design",
    "Deviation",
    "DryFit",
    "Edit",
    "Edited",
    "Fact",
    "Forecast",
    "Heating",
    "HingeReading",
    "Job",
    "JobProduct",
    "Joint",
    "Judgement",
    "KeptPlan",
    "Link",
    "Lot",
    "LotNote",
    "MassItem",
    "Measured",
    "Outlook",
    "Part",
    "PartCheck",
    "PartPlace",
    "PartTemperature",
    "Photo",
    "PieceCut",
    "Pin",
    "Project",
    "Pump",
    "Reading",
    "Remnant",
    "RemnantNote",
    "Shape",
    "Shop",
    "StandingOrder",
    "Station",
    "TakenBack",
    "Temperature",
    "TemperatureImport",
    "TemperatureReplaced",
    "Tick",
    "UtcMoment",
    "WayCut",
    "Weighing",
    "Witness",
    "Work",
    "Zone",
]

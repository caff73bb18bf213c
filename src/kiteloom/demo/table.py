"""What lies on the Reedling's cutting table and scale: a cut plan, remnants, weights, hinges, limits. All invented."""

from __future__ import annotations

from datetime import datetime, timedelta

from kiteloom.core.base.quantities import Typed
from kiteloom.demo.whole import AIRFRAME
from kiteloom.store.models import Part, Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.build.masses import EditItem, edit_item
from kiteloom.workshop.build.parts import built_parts
from kiteloom.workshop.cut.plans import EditWay, NewCutPlan, NewWay, Row, edit_way, new_plan, new_way
from kiteloom.workshop.cut.remnants import AddRemnant, add_remnant
from kiteloom.workshop.cut.wanted import products_cut
from kiteloom.workshop.log.weighings import NoteWeighing, note_weighing

TWILL, FOAM = stable_id("sheet", "Sedge 163 twill glass"), stable_id("sheet", "Bulrush 60, 6 mm foam")
STITCHED = stable_id("sheet", "Wicker 300 stitched ±45 glass")
#: Datum, limits and the most it may weigh: metres aft of the nose, grams.
LIMITS = {"datum_m": 1.72, "fore_m": 1.98, "aft_m": 2.24, "most_g": 620_000.0}
#: What it carries: kilograms, metres aft of the nose, whether a load.
CARRIED = {
    "Engine with its mount": (52.0, 0.38, False),
    "Propeller and hub": (6.4, 0.02, False),
    "Battery": (9.5, 0.72, False),
    "Instruments and radio": (4.8, 1.05, False),
    "Main wheel and brakes": (11.2, 2.3, False),
    "Two seats with harness": (8.6, 1.98, False),
    "Wing fittings and controls": (17.5, 2.02, False),
    "Spruce and plywood, until it is weighed": (96.0, 2.75, False),
    "Crew of two": (165.0, 1.95, True),
    "Fuel": (36.0, 2.35, True),
}
#: Hinges of control surfaces by their part: behind the leading edge at root and tip, balance weight ahead [m].
HINGES = {"Left aileron": (0.055, 0.045, 0.042), "Left elevator": (0.05, 0.04, 0.05), "Rudder": (0.08, 0.06, 0.07)}


def lay_the_table(uow: UnitOfWork, now: datetime) -> None:
    """Keep all of it, as on the evening before."""
    evening = now - timedelta(hours=14)
    airframe = uow.get(Project, stable_id("project", AIRFRAME))
    airframe.limits = dict(LIMITS)
    for name, (kilos, aft, load) in CARRIED.items():
        weighs, place = Typed(f"{kilos:g}", "kg"), Typed(f"{aft:g}", "m")
        edit_item(uow, airframe.id, EditItem(stable_id("item", name), 0, name, weighs, place, load), evening)
    for part in uow.all(Part):
        if part.name in HINGES:
            root, tip, ahead = HINGES[part.name]
            part.design.hinge = {"root_m": root, "tip_m": tip, "ahead_m": ahead, "wanted_pct": 100.0}
    ribs = next(part for part in uow.all(Part) if part.name == "Left wing, aft ribs")
    bare = NoteWeighing(stable_id("weighing", ribs.id), "", "before", Typed("1874", "g"), note="thirteen ribs, bare")
    note_weighing(uow, ribs.id, bare, evening)
    _cut(uow, evening)


def _cut(uow: UnitOfWork, then: datetime) -> None:
    jobs = products_cut(uow, built_parts(uow))[TWILL]
    rows = tuple(Row(part.id, job.key) for part, job in jobs if "flap" in part.name or "aileron" in part.name)
    plan = stable_id("cut plan", "flaps")
    new_plan(uow, NewCutPlan(plan, TWILL, rows, "Flaps and ailerons"), then)
    way, other = stable_id("way", plan), stable_id("way", plan, "stitched")
    edit_way(uow, way, EditWay(1, {"price": "9.80 EUR", "seconds": "10"}), then)
    new_way(uow, plan, NewWay(other, way), then)
    edit_way(uow, other, EditWay(1, {"price": "12.40 EUR", "seconds": "10"}, STITCHED), then)
    birch = stable_id("sheet", "Birch plywood 1.5 mm")
    rows = tuple(Row(part.id, job.key) for part, job in products_cut(uow, built_parts(uow))[birch])
    nose = stable_id("cut plan", "nose ribs")
    new_plan(uow, NewCutPlan(nose, birch, rows, "Nose ribs of both wings"), then)
    edit_way(uow, stable_id("way", nose), EditWay(1, {"price": "38 EUR", "seconds": "5"}), then)
    for name, sheet, length, width in (
        ("end of the roll", TWILL, "1.9 m", "1.27 m"),
        ("beside the belly skin", TWILL, "2.6 m", "380 mm"),
        ("half a sheet", FOAM, "0.9 m", "1 m"),
    ):
        remnant = AddRemnant(stable_id("remnant", name), sheet, Typed(length, "m"), Typed(width, "m"), name)
        add_remnant(uow, remnant, then)

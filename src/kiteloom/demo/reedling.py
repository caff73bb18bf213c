"""The two-seat motor-glider Reedling, being built by a club in a boathouse. All invented.

Wing skins of glass and foam, laid in a mould under vacuum; a rudder frame glued of wood; ribs
to be varnished. The data folder is seeded as if the club had been at it for a week, whatever
day it is.
"""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime, timedelta
from typing import Any

from kiteloom.core.air.building import ZoneModel
from kiteloom.core.base.calendar import zone_of
from kiteloom.core.base.quantities import Typed
from kiteloom.core.build.recipes import (
    fill_fair,
    foam_core,
    paste_bond,
    prime,
    sandwich_skin,
    spar_cap,
    varnish,
    wood_frame,
)
from kiteloom.demo.buying import sells_and_orders
from kiteloom.demo.closings import closings_so_far
from kiteloom.demo.logbook import written_so_far
from kiteloom.demo.month import finished_so_far, found_small
from kiteloom.demo.nose import found_nose, glued_so_far
from kiteloom.demo.products import CLOTHS, CORES, SHEETS
from kiteloom.demo.readings import iron_so_far, read_so_far
from kiteloom.demo.table import lay_the_table
from kiteloom.demo.tank import tank_so_far
from kiteloom.demo.week import HOURS, ZONE, Week, working_day
from kiteloom.demo.whole import found_rest
from kiteloom.standins.probe import SimulatedProbe
from kiteloom.standins.weather import SimulatedForecast, SimulatedSky
from kiteloom.store.models import Project, Zone
from kiteloom.store.unit_of_work import Store, UnitOfWork
from kiteloom.workshop.air.climate import MAIN, heating_of, keep_forecast, zones
from kiteloom.workshop.air.readings import record_readings
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.build.founding import Founding
from kiteloom.workshop.log.batches import CorrectBatch, correct_batch
from kiteloom.workshop.plan.kept import keep_plan, made_from
from kiteloom.workshop.plan.plan import shop_plan
from kiteloom.workshop.plan.watch import Instruments

WEEK_END = [{"weekday": 5, "start": 9 * 60, "end": 17 * 60}]

#: The heater of the boathouse runs from six to nine at night.
BOATHOUSE, HEATING = ZoneModel(9, 1.0, 17.0), (6 * 60, 21 * 60)
CELLAR = ZoneModel(80, 2.0)
COOL = "cool room"
#: A cupboard with a lamp in it, and an insulated box with a heater, both on day and night.
CUPBOARD, BOX = ZoneModel(2, 4.0, 30.0), ZoneModel(1, 8.0, 45.0)
ALL_DAY = (0, 1440)
_SKY = SimulatedSky(71, zone_of(ZONE))
#: By so much last evening's forecast was too mild [K].
MILDER_K = 9.0


def seed(store: Store, now: datetime, *, whole: bool = False) -> bool:
    """Fill an empty data folder; a folder that has a project is left as it is.

    ``whole`` founds all of the airframe, not only the parts that are on the bench now.
    """
    with store.writing() as uow:
        if uow.all(Project):
            return False
        found_shop(uow, now)
        if whole:
            found_rest(uow, now)
            found_nose(uow, now)
            lay_the_table(uow, now)
            found_small(uow, now)
    # A month ago the air was logged every half an hour, the week before every ten minutes; from now on every minute.
    long_before, before, minute = boathouse(store, every_min=30), boathouse(store, every_min=10), now.timestamp() / 60
    evening = working_day(now, 1, "18:30")
    closed = evening.timestamp() / 60
    with store.writing() as uow:
        if whole:
            _read(uow, long_before, closed - 34 * 1440, closed - 8 * 1440, evening)
        _read(uow, before, closed - 8 * 1440, closed, evening)
        for ago in range(9, 0, -1):
            then = now - timedelta(days=ago)
            days = SimulatedForecast(_SKY).days(then.timestamp() / 60)
            keep_forecast(uow, stable_id("demo", "forecast", str(ago)), days, then)
        # That evening the coming night was said to be milder than it then was.
        said = [
            replace(day, low_c=min(day.low_c + MILDER_K, day.high_c)) for day in SimulatedForecast(_SKY).days(closed)
        ]
        keep_forecast(uow, stable_id("demo", "forecast", "evening"), said, evening)
    with store.writing() as uow:
        week = Week(uow, now)
        _work_so_far(uow, now, week)
        written_so_far(uow, now)
        if whole:
            finished_so_far(uow, now)
            glued_so_far(week)
            read_so_far(uow, now)
            iron_so_far(uow, now)
            closings_so_far(uow, now)
            tank_so_far(uow, now, week)
            sells_and_orders(uow, now)
    with store.reading() as uow:
        shop = shop_plan(uow, closed)
        assert shop is not None, "it was measured all week"
        made = made_from(uow, shop.input, shop.plan)
    with store.writing() as uow:
        keep_plan(uow, stable_id("demo", "evening"), "evening", shop.plan, closed)
        keep_plan(uow, stable_id("demo", "accepted"), "accepted", shop.plan, closed, made)
    with store.writing() as uow:
        _read(uow, before, closed, minute, now)
        keep_forecast(uow, stable_id("demo", "forecast"), SimulatedForecast(_SKY).days(minute), now)
    return True


def _read(uow: UnitOfWork, instruments: Instruments, start: float, end: float, now: datetime) -> None:
    for zone, probe in instruments.probes.items():
        record_readings(uow, zone, probe.readings(start, end), now)


def boathouse(store: Store, every_min: float = 1.0) -> Instruments:
    """A probe in each zone and a forecast, simulated: the same for the same day."""
    sky, shop_zone = _SKY, zone_of(ZONE)
    with store.reading() as uow:
        rows = zones(uow)
        for row in rows:
            uow.session.expunge(row)
    models = {MAIN: BOATHOUSE, COOL: CELLAR, "warm cupboard": CUPBOARD, "hot box": BOX}

    def probe(row: Zone) -> SimulatedProbe:
        return SimulatedProbe(sky, models[row.id], lambda start, end: heating_of(row, shop_zone, start, end), every_min)

    return Instruments({row.id: probe(row) for row in rows}, forecaster=SimulatedForecast(sky))


def found_shop(uow: UnitOfWork, now: datetime) -> None:
    """The boathouse, its people and products, and what is to be built, with nothing measured or mixed yet."""
    founding = Founding(uow, now)
    founding.shop("The boathouse", ZONE, HOURS)
    founding.zone(MAIN, "Main shop", BOATHOUSE, HEATING)
    founding.zone(COOL, "Cool room", CELLAR)
    founding.zone("warm cupboard", "Warm cupboard", CUPBOARD, ALL_DAY, 1.2)
    founding.zone("hot box", "Hot box", BOX, ALL_DAY, 8.0)
    for key, name, capacity in (
        ("vacuum pump", "The vacuum pump", 2),
        ("bench", "The bench", 2),
        ("jig", "The jig", 1),
        ("drying stand", "The drying stand", 1),
        ("wing stands", "The wing stands", 2),
        ("cap mould", "The cap mould", 1),
    ):
        founding.station(key, name, capacity)
    founding.station(COOL, "The cool room", 1, COOL)
    founding.station("hot box", "The hot box", 1, "hot box")
    founding.station("booth", "The spray tent", 1)
    founding.station("warm place", "The warm cupboard", 1, "warm cupboard")
    sheets = {name: founding.data_sheet(kind, name, says) for kind, name, says in SHEETS}
    slow, glue, coat = sheets["Tarn 210 with 214 slow"], sheets["Heron glue"], sheets["Sallow varnish"]

    def day(days: int) -> date:
        return (now + timedelta(days=days)).date()

    founding.lot(slow, "T-4471", day(-40), day(320), 16_000)
    founding.lot(slow, "T-4390", day(-400), day(-12), 640)
    founding.lot(sheets["Tarn 210 with 212 fast"], "T-4502", day(-40), day(320), 6_400)
    founding.lot(glue, "H-118", day(-90), day(270), 2_000)
    founding.lot(sheets["Heron 30 paste"], "HP-31", day(-90), day(20), 1_000)
    founding.lot(sheets["Heron 35 fairing paste"], "HF-7", day(-60), day(300), 3_000)
    founding.lot(coat, "S-2207", day(-60), day(500), 3_000)
    founding.lot(sheets["Moth peel ply"], "MP-9", day(-20), None, 25)
    founding.lot(sheets["Moth bag film"], "MB-3", day(-20), None, 25)
    founding.lot(sheets["Moth sealant tape"], "MT-14", day(-20), None, 85)
    founding.lot(sheets["Moth gloves"], "G-2", day(-20), None, 50)
    cloth, core = {name: sheets[name] for name in CLOTHS}, {name: sheets[name] for name in CORES}
    founding.crew_member("Bo", "layup", "bonding")
    founding.crew_member("Imre", "layup", "woodwork")
    founding.crew_member("Odile", "woodwork", "finishing", "bonding")
    founding.crew_member("Sanna", "layup", "finishing")
    founding.crew_member("Teo", "woodwork", "bonding", hours=WEEK_END)
    light, heavy = cloth["Sedge 163 twill glass"], cloth["Sedge 280 twill glass"]
    foam6, foam8 = core["Bulrush 60, 6 mm foam"], core["Bulrush 75, 8 mm foam"]

    def book(*plies: tuple[str, float], core_id: str, after: int) -> dict[str, Any]:
        rows = [{"cloth_id": cloth_id, "angle_deg": angle} for cloth_id, angle in plies]
        return {"plies": rows, "core_id": core_id, "core_after": after}

    wing = founding.assembly("Reedling", "Wing", 1)
    shape = founding.panel(
        "Reedling outer wing",
        {"span_m": 7.2, "root_chord_m": 1.12, "tip_chord_m": 0.62, "sweep_m": 0.12},
        {"naca": "4415"},
        {"naca": "4412"},
    )
    books = {
        "upper": book((light, 45), (heavy, 0), (heavy, 45), core_id=foam8, after=2),
        "lower": book((heavy, 45), (light, 0), (light, 45), core_id=foam6, after=2),
    }
    rank, skins = 0, []
    for side, plies in books.items():
        design = founding.design(shape, f"{side.capitalize()} wing skin", side)
        founding.job(design, sandwich_skin.RECIPE.key, {"resin": slow}, ply_book=plies)
        for hand in ("left", "right"):
            rank += 1
            skins.append(founding.part(wing, design, hand, f"{hand.capitalize()} wing, {side} skin", rank))
    ribs = founding.design(shape, "Aft rib set", "whole")
    founding.job(ribs, varnish.RECIPE.key, {"varnish": coat}, {"rib_pitch_m": 0.4, "rib_area_m2": 0.11})
    ribbed = founding.part(wing, ribs, "left", "Left wing, aft ribs", 5)
    aileron = founding.panel(
        "Reedling aileron",
        {"span_m": 2.3, "root_chord_m": 0.27, "tip_chord_m": 0.21, "sweep_m": 0.0},
        {"naca": "0010"},
        {"naca": "0010"},
    )
    trailing = founding.assembly("Reedling", "Flaps and ailerons", 2)
    flap = founding.panel(
        "Reedling flap",
        {"span_m": 2.3, "root_chord_m": 0.27, "tip_chord_m": 0.21, "sweep_m": 0.0},
        {"naca": "0010"},
        {"naca": "0010"},
    )
    small = founding.design(flap, "Flap upper skin", "upper")
    plies = book((light, 45), (light, 45), core_id=foam6, after=1)
    founding.job(small, sandwich_skin.RECIPE.key, {"resin": slow}, ply_book=plies)
    founding.part(trailing, small, "left", "Left flap, upper skin", 6)
    tail = founding.assembly("Reedling", "Tail", 3)
    fin = founding.panel(
        "Reedling rudder",
        {"span_m": 1.35, "root_chord_m": 0.62, "tip_chord_m": 0.44, "sweep_m": 0.0},
        {"naca": "0009"},
        {"naca": "0009"},
    )
    frame = founding.design(fin, "Rudder frame", "whole")
    given = {"rib_pitch_m": 0.15, "gussets_per_rib": 2, "stringers": 2, "blocks": 2, "thick_m": 0.004, "long_g": 1900.0}
    founding.job(frame, wood_frame.RECIPE.key, {"glue": glue}, given)
    founding.part(tail, frame, "centre", "Rudder", 7)
    cap = founding.design(shape, "D-box spar cap", "whole")
    carbon = {"plies": [{"cloth_id": cloth["Rush 200 one-way carbon"], "angle_deg": 0}] * 8}
    founding.job(cap, spar_cap.RECIPE.key, {"resin": slow}, {"length_m": 7.0, "width_m": 0.07}, carbon)
    capped = founding.part(wing, cap, "left", "Left wing, spar cap", 8)
    # One piece from tip to tip.
    tips, middle = {"chord_m": 0.5, "leading_edge_m": 0.06}, {"at_m": 1.3, "chord_m": 0.72}
    rows = [{"at_m": 0.0, **tips}, middle, {"at_m": 2.6, **tips}]
    plane = founding.shape(
        "Reedling tailplane", "loft", {"stations": [{**row, "section": {"naca": "0009"}} for row in rows]}
    )
    filler, primer = sheets["Heron 35 fairing paste"], sheets["Sallow primer"]

    def skinned_faired_and_primed(panel: str, core_id: str) -> None:
        """A foam core and its skins, then filled and faired, then primed."""
        plies = book((light, 45), (light, 0), core_id=core_id, after=2)
        founding.job(panel, foam_core.RECIPE.key, {"resin": slow}, ply_book=plies)
        founding.job(panel, fill_fair.RECIPE.key, {"filler": filler}, {"fills": 2, "on_foam": False}, key="j2")
        founding.job(panel, prime.RECIPE.key, {"primer": primer}, {"coats": 2, "method": "roller"}, key="j3")

    panel = founding.design(plane, "Tailplane panel", "whole")
    skinned_faired_and_primed(panel, foam6)
    founding.part(tail, panel, "centre", "Tailplane", 9)
    roll = founding.design(aileron, "Aileron", "whole")
    skinned_faired_and_primed(roll, foam6)
    for n, hand in enumerate(("left", "right")):
        founding.part(trailing, roll, hand, f"{hand.capitalize()} aileron", 12 + n)
    joint = founding.design(shape, "Wing closing joint", "whole")
    glue_line = {"length_m": 15.2, "width_m": 0.03, "thickness_mm": 1.0}
    faces = {"one": "cured laminate", "other": "carbon", "closes": True, "people": 3}
    founding.job(joint, paste_bond.RECIPE.key, {"paste": sheets["Heron 30 paste"]}, {**glue_line, **faces})
    founding.job(joint, fill_fair.RECIPE.key, {"filler": filler}, {"fills": 2, "on_foam": False}, key="j2")
    built = [skins[0], skins[2], ribbed, capped]
    founding.part(wing, joint, "left", "Left wing, closing joint", 11, [(other, "fit") for other in built])


def _work_so_far(uow: UnitOfWork, now: datetime, week: Week) -> None:
    """A week of work: both lower skins begun, a flap's outer skin peeled, a rudder half fitted, ribs varnished."""
    slow = "Tarn 210 with 214 slow"
    left, right, flap = "Left wing, lower skin", "Right wing, lower skin", "Left flap, upper skin"
    rudder, ribs = "Rudder", "Left wing, aft ribs"
    week.work(rudder, "cut", 5, "09:30", "12:20", "Odile")
    week.work(left, "prepare", 5, "13:00", "14:50", "Bo", "Imre")
    week.work(left, "skin-1/layup", 4, "09:40", "12:30", "Bo", "Imre", "Sanna")
    for clock, resin, hardener, who in (
        ("09:50", "630", "176", "Imre"),
        ("10:40", "655", "184", "Sanna"),
        ("11:35", "612", "171", "Imre"),
        ("12:10", "330", "92", "Sanna"),
    ):
        week.cup(left, "skin-1/layup", slow, resin, hardener, 4, clock, who, "T-4471")
    week.work(flap, "prepare", 4, "14:00", "15:05", "Bo", "Odile")
    week.work(flap, "skin-1/layup", 3, "09:20", "10:25", "Bo", "Odile", "Sanna")
    week.cup(flap, "skin-1/layup", slow, "118", "33", 3, "09:30", "Odile", "T-4471")
    week.found_hard(left, "skin-1/layup", 2, "13:05", "Imre")
    week.work(left, "skin-1/peel", 2, "13:10", "14:10", "Imre")
    week.found_hard(flap, "skin-1/layup", 2, "14:15", "Odile")
    week.work(flap, "skin-1/peel", 2, "14:20", "14:45", "Odile")
    week.work(ribs, "sand", 2, "09:20", "11:30", "Odile")
    week.work(right, "prepare", 2, "15:00", "17:05", "Bo", "Sanna")
    week.work(ribs, "coat-1/mix", 1, "09:10", "09:20", "Odile")
    week.work(ribs, "coat-1/brush", 1, "09:55", "11:00", "Odile")
    week.cup(ribs, "coat-1/brush", "Sallow varnish", "210", "100", 1, "09:20", "Odile", "S-2207")
    week.work(rudder, "fit", 1, "11:15", "13:00", "Odile", kind="pause")
    week.work(right, "skin-1/layup", 1, "13:05", "15:25", "Bo", "Imre", "Sanna")
    week.cup(right, "skin-1/layup", slow, "612", "171.5", 1, "13:20", "Imre", "T-4471")
    wrong = week.cup(right, "skin-1/layup", slow, "598", "167", 1, "13:55", "Sanna", "T-4471")
    week.cup(right, "skin-1/layup", slow, "640", "181", 1, "14:30", "Imre", "T-4471")
    week.work(left, "core/bed", 1, "16:30", "18:30", "Bo", "Imre", "Sanna")
    week.cup(left, "core/bed", slow, "560", "157", 1, "16:50", "Imre", "T-4471")
    week.cup(left, "core/bed", slow, "545", "153", 1, "17:20", "Sanna", "T-4471")
    week.cup(left, "core/bed", slow, "410", "115", 1, "17:55", "Imre", "T-4471")
    week.cup(left, "core/bed", slow, "540", "152", 1, "18:25", "Bo", "T-4471")
    mended = stable_id("demo", "batch", "mended")
    mend = CorrectBatch(mended, "read the scale upside down", Typed("589", "g"), Typed("167", "g"))
    correct_batch(uow, wrong, mend, now)

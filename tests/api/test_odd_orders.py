"""Whatever is sent to the routes that keep something, it is kept or refused with a reason; never a trace."""

from __future__ import annotations

import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.api.hostile import ODD
from tests.api.test_fuzz import places, replaced
from tests.core.jobs import examples

from kiteloom.demo.logbook import note_id
from kiteloom.workshop.base.ids import stable_id

SURFACE = "00000000-0000-0000-0000-000000000000"
TYPED = {"text": "30", "unit": "min"}
FILE = "time,temp\n2026-05-14 09:00,15\n"
WORK = {"id": "w1", "part_id": SURFACE, "step_key": "prepare", "kind": "start", "crew": []}
TRY = {"part_id": SURFACE, "step_key": "skin-1/layup", "start": "2026-05-14T16:00"}
HEATED = {"heater": {"text": "20", "unit": "°C"}, "heater_from": "20:00", "heater_to": "06:00"}
OWN = {"version": 1, "id": "s", "name": "Drill", "after": "prepare", "minutes": TYPED, "people": 1, "wait": TYPED}
ZONE = {"heat": {"text": "18", "unit": "°C"}, "lag": {"text": "5 h", "unit": "h"}}
LOOK = {"id": "p1", "name": "a.csv", "zone": "main shop", "text": FILE, "choices": {"time": 0, "temp": 1, "unit": "°C"}}
TAKE = {"id": "i1", "name": "a.csv", "zone": "cool room", "text": FILE, "without_bad": True}
SAY = {"id": "o1", "low": {"text": "5", "unit": "°C"}, "high": {"text": "15", "unit": "°C"}, "zone": "main shop"}
SHEET = {"kind": "cement", "name": "Reed", "texts": {"chemistry": "drying", "spread_m2_l": "5"}, "temps": ["20", "30"]}
SHEET |= {"stages": [{"name": "handle", "hours": ["3", "1.5"]}]}
SHEETS = '{"sheets": [{"kind": "solvent", "name": "Fen", "says": {"density_kg_m3": 790}}]}'
GRAMS = {"text": "40", "unit": "g"}
BATCH = stable_id("demo", "batch", "1")
TARN = stable_id("sheet", "Tarn 210 with 214 slow")
LOT = {"id": "l1", "sheet_id": TARN, "lot_number": "T-9", "component": "both", "received_on": "2026-05-01"}
LOT |= {"expires_on": "2027-05-01", "amount": {"text": "5 kg", "unit": "g"}}
T4471 = stable_id("lot", TARN, "T-4471")
NOTE, ASKED = (note_id(days) for days in (22, 18))
JOINT_ID = "22222222-2222-2222-2222-222222222222"
RIGHT_ID = "11111111-1111-1111-1111-111111111111"
RIGHT = {"part_id": RIGHT_ID, "step_key": "skin-1/layup"}
READ_BATCH = stable_id("demo", "batch", "7")
LEG = {"to": {"text": "45", "unit": "°C"}, "ramp": {"text": "5", "unit": "K"}, "hold": {"text": "6", "unit": "h"}}
HEAT = {"step_key": "skin-1/layup", "part_id": SURFACE, "legs": [LEG], "start": "2026-05-25T16:00"}
HOURS = ["", "", "", "", "", "09:00–16:00", ""]
BO = stable_id("crew", "Bo")
AT = {"part_id": SURFACE, "step_key": "skin-1/layup"}
PART = {"name": "coat", "minutes": TYPED, "hands_on": True}
DEGREES = {"text": "5", "unit": "°C"}
LONG = {"text": "1.2", "unit": "m"}
GAP = {"text": "1.2", "unit": "mm"}
#: Orders about a job that the part does not have: what it is built by.
ON_A_JOB = {"tank": "tank", "compare coats": "paint"}
GAUGE, OUTSIDE = {"text": "7 kPa", "unit": "kPa"}, {"text": "1013", "unit": "mbar"}
MINUS = {"text": "-1.2", "unit": "mm"}
RIVETS = {"kind": "blind", "diameter_mm": "3.2", "material": "laminate", "one_mm": "3", "other_mm": "2"}
KILO = {"text": "1.2", "unit": "kg"}
REEDLING = stable_id("project", "Reedling")
CUT = "skins-to-cut"
WAY = stable_id("way", CUT)
REMNANT = "end-of-a-roll"
TWILL = stable_id("sheet", "Sedge 163 twill glass")
ROW = {"at": "0", "chord": "1 m", "leading_edge": "", "height": "", "twist": "1", "section": {"naca": "2412"}}
SHAPE = {"kind": "loft", "stations": [ROW, {**ROW, "at": "2 m"}], "ribs": {"where": "every 300 mm", "width": "8 mm"}}
SHAPE |= {"strips": [{"at": "0", "across": "1"}], "pieces": [{"name": "rib", "count": "3"}], "measured": "one face"}
SHAPE |= {"outline": {"points": "0, 0", "unit": "mm", "keep": False}}
JOB = {"recipe": "frame", "given": {"stringers": "2", "rib_pitch_m": "300 mm"}, "products": {}}
LIES = {"place": {"aft_m": "1", "side_m": "0.5", "lies": "upright"}}
WREN = json.dumps({"format": "kite loom airframe", "version": 1, "id": "wren", "name": "Wren"})
WING_ID = stable_id("assembly", "Reedling", "Wing")
MONEY = {"text": "8,50", "unit": ""}
#: Orders that need a seller, an item and an order on the way.
BOUGHT = ("offer", "item use", "item note", "orders", "arrival")
#: Orders that are answered 200: they look, or answer with the whole page.
LOOKS = (
    "compare coats",
    "supplier",
    "offer",
    "item",
    "item use",
    "kit list",
    "pitches",
    "what-if",
    "preview",
    "sheets file",
    "cups",
    "pour",
    "straight shot",
    "filled",
    "person",
    "station",
    "delivery",
    "shape look",
    "job look",
    "airframe file",
    "joint",
    "hidden hole",
    "gate list",
    "iron",
    "check",
)
#: Those that want something on the cutting table.
TABLE = ("plan of the cutting", "another way", "way", "remnant note")
ORDERS = {
    "witness": (
        "POST",
        "/witness",
        {**RIGHT, "id": "w", "how": "hardness", "passes": True, "value": "70", "note": "", "batch_id": READ_BATCH},
    ),
    "place": ("POST", f"/parts/{SURFACE}/place", {"id": "p", "zone_id": "cool room"}),
    "part temperature": ("POST", f"/parts/{SURFACE}/temperature", {"id": "t", "temp": DEGREES}),
    "post-cure": ("POST", "/post-cures", {**HEAT, "id": "h", "service": DEGREES}),
    "straight shot": (
        "POST",
        "/climate/shots",
        {"zone": "main shop", "parts": [PART], "least": DEGREES, "most": DEGREES, "most_rh": {"text": "", "unit": "%"}},
    ),
    "filled": (
        "POST",
        "/bench/filled",
        {
            "sheet_id": TARN,
            "powder_id": stable_id("sheet", "Thistle flock"),
            "use": "fillet",
            "consistency": "syrup",
            "volume": {"text": "80", "unit": "ml"},
        },
    ),
    "cups": ("POST", "/bench/cups", {"sheet_id": TARN, "amount": GRAMS, "spread": GRAMS, "scale_step_g": 0.1}),
    "pump": ("POST", f"/bench/{TARN}/pumps", {"id": "u1", "component": "resin", "strokes": 3, "grams": GRAMS}),
    "pour": (
        "POST",
        "/bench/pour",
        {"sheet_id": TARN, "resin": GRAMS, "hardener": GRAMS, "since": "2026-05-14T09:00", "used": False},
    ),
    "batch note": (
        "POST",
        f"/batches/{BATCH}/notes",
        {"id": "b1", "kind": "on", "part_id": SURFACE, "step_key": "core/bed", "grams": GRAMS, "note": "rest"},
    ),
    "sheet": ("POST", "/shelf", {"id": "s1", **SHEET}),
    "sheets file": ("POST", "/shelf/import", {"text": SHEETS, "take": True, "replace": True}),
    "lot": ("POST", "/lots", LOT),
    "lot note": ("POST", f"/lots/{T4471}/notes", {"id": "n1", "kind": "counted", "amount": {"text": "4", "unit": "g"}}),
    "work": ("POST", "/work", {**WORK, "happened_at": "2026-05-14T09:00"}),
    "what-if": ("POST", "/cures/what-if", {**TRY, **HEATED}),
    "minutes": ("PATCH", f"/parts/{SURFACE}/minutes", {"version": 1, "step_key": "prepare", "minutes": TYPED}),
    "own step": ("POST", f"/parts/{SURFACE}/steps", OWN),
    "zone": ("PATCH", "/climate/zones/main shop", {"version": 1, "fields": ZONE}),
    "preview": ("POST", "/climate/previews", LOOK),
    "import": ("POST", "/climate/imports", TAKE),
    "outlook": ("POST", "/climate/outlooks", SAY),
    "person": ("POST", "/people", {"id": "n", "version": 0, "name": "Wanda", "skills": ["layup"], "week": HOURS}),
    "absence": ("POST", "/absences", {"id": "a", "crew_member_id": BO, "start": "2026-05-15T08:00", "note": "away"}),
    "station": ("POST", "/stations", {"id": "s", "version": 0, "name": "Rack", "capacity": 2, "zone_id": "cool room"}),
    "pin": ("POST", "/pins", {**AT, "id": "p", "start": "2026-05-20T10:00", "crew": [BO]}),
    "delivery": ("POST", "/deliveries", {**AT, "id": "d", "version": 0, "what": "Bolts", "expected_on": "2026-05-20"}),
    "ticks": ("POST", "/ticks", {"ticks": [{**AT, "id": "t", "item": "wet", "done": True}]}),
    "accept": ("POST", "/plan/accept", {"id": "k"}),
    "shape look": ("POST", "/shapes/look", {"shape": SHAPE, "side": "upper", "hand": "both", "part_id": SURFACE}),
    "job look": ("POST", f"/parts/{SURFACE}/jobs/look", JOB),
    "found part": (
        "POST",
        "/airframes/parts",
        {"id": "p9", "name": "Fin", "assembly_id": WING_ID, "shape": SHAPE, **LIES},
    ),
    "edit part": ("PATCH", f"/parts/{SURFACE}", {"version": 1, "name": "Skin", "reason": "", **LIES}),
    "copy part": ("POST", f"/parts/{SURFACE}/copy", {"id": "p8", "how": "copy", "name": "Spare"}),
    "assembly": (
        "POST",
        "/assemblies",
        {"id": "a9", "airframe_id": stable_id("project", "Reedling"), "name": "Floats"},
    ),
    "airframe file": ("POST", "/airframes/file", {"text": WREN, "take": True, "replace": False}),
    "cut plan": (
        "POST",
        "/cut-plans",
        {"id": "c9", "name": "Skins", "data_sheet_id": TWILL, "rows": [{"part_id": SURFACE, "job": ""}]},
    ),
    "plan of the cutting": ("PATCH", f"/cut-plans/{CUT}", {"version": 1, "name": "Skins", "plies": "on the bias"}),
    "another way": ("POST", f"/cut-plans/{CUT}/ways", {"id": "y9", "like": WAY}),
    "way": ("PATCH", f"/cut-ways/{WAY}", {"version": 1, "texts": {"gap_m": "7 mm", "price": "9 EUR", "seconds": "2"}}),
    "remnant note": ("POST", f"/remnants/{REMNANT}/notes", {"id": "q9", "kind": "thrown"}),
    "carried": (
        "PUT",
        f"/airframes/{REEDLING}/items",
        {"id": "i9", "version": 0, "name": "Radio", "weighs": KILO, "aft": LONG, "load": False, "hidden": False},
    ),
    "limits": (
        "PATCH",
        f"/airframes/{REEDLING}/limits",
        {"version": 1, "texts": {"fore_m": "1.9", "most_g": "620 kg"}},
    ),
    "arm": ("PATCH", f"/parts/{SURFACE}/arm", {"version": 1, "arm": LONG}),
    "hinge": (
        "PATCH",
        f"/parts/{SURFACE}/hinge",
        {"version": 1, "texts": {"root_m": "50", "tip_m": "40", "ahead_m": "60", "wanted_pct": "100"}},
    ),
    "weighing": (
        "POST",
        f"/parts/{SURFACE}/weighings",
        {"id": "w9", "job": "", "moment": "after", "weighs": {"text": "14 kg", "unit": "g"}, "note": "whole"},
    ),
    "iron": ("POST", "/irons", {"id": "i9", "version": 0, "name": "The big iron", "hidden": False}),
    "tank": (
        "POST",
        f"/parts/{SURFACE}/tank",
        {
            "id": "l9",
            "gauge": GAUGE,
            "temperature": {"text": "18 °C", "unit": "°C"},
            "barometer": OUTSIDE,
            "begins": True,
        },
    ),
    "compare coats": (
        "POST",
        f"/parts/{SURFACE}/coats/compare",
        {"job": "j2", "texts": {"tin_price": "34.50", "tin_l": "0.75 l", "sprayer_price": "59", "can_price": "11,90"}},
    ),
    "gate list": ("POST", "/gate-lists", {"id": "g9", "version": 0, "name": "Wings", "lines": ["Cables in", "Swept"]}),
    "log note": ("POST", "/log-notes", {"id": "n1", "kind": "question", "words": "Which?", "part_id": SURFACE}),
    "correction of a note": ("POST", "/log-notes", {"id": "n2", "kind": "note", "words": "No", "corrects_id": NOTE}),
    "answer": ("POST", f"/log-notes/{ASKED}/answers", {"id": "a1", "words": "So", "by_whom": "The kit maker"}),
    "gate note": (
        "POST",
        "/gate/notes",
        {"id": "g8", "part_id": JOINT_ID, "step_key": "bond", "kind": "add", "note": "Cables in", "line": ""},
    ),
    "check": (
        "POST",
        f"/parts/{SURFACE}/checks",
        {
            "id": "k9",
            "version": 0,
            "name": "Bays",
            "kind": "spacing",
            "low": MINUS,
            "high": GAP,
            "twice": False,
            "points": [{"name": "1", "nominal": LONG, "at": LONG}, {"name": "2", "nominal": LONG}],
        },
    ),
    "tap": (
        "POST",
        f"/parts/{JOINT_ID}/taps",
        {"id": "t9", "along": 8, "across": 1, "voids": [[3, 0]], "note": "dull"},
    ),
    "joint": (
        "POST",
        f"/parts/{JOINT_ID}/joint",
        {
            "version": 0,
            "faces": [{"part_id": SURFACE, "where": "edge"}, {"part_id": RIGHT_ID, "fixes": True}],
            "loose": [SURFACE],
            "fasteners": RIVETS,
        },
    ),
    "dry fit": (
        "POST",
        f"/parts/{JOINT_ID}/dry-fits",
        {"id": "f1", "gaps": [{"at": LONG, "gap": GAP}], "note": "film"},
    ),
    "hidden hole": (
        "POST",
        "/hidden-hole/look",
        {"by": "two measures", "hole": GAP, "apart": LONG, "one": LONG, "other": LONG, "off": GAP, "steps": 1},
    ),
    "supplier": (
        "POST",
        "/suppliers",
        {"id": "s9", "version": 0, "name": "Mill", "currency": "EUR", "postage": MONEY, "free_from": MONEY},
    ),
    "offer": (
        "POST",
        "/offers",
        {
            "id": "o9",
            "version": 0,
            "supplier_id": "quay",
            "ware": f"sheet:{TARN}:both",
            "words": "5 kg",
            "amount": GRAMS,
            "price": MONEY,
            "lead_days": 5,
        },
    ),
    "item": (
        "POST",
        "/items",
        {
            "id": "i9",
            "version": 0,
            "name": "Rod end",
            "texts": {"thread": "M5", "length_mm": "25"},
            "kit": "nose",
            "listed": 4,
        },
    ),
    "item use": (
        "POST",
        "/items/uses",
        {"id": "u9", "item_id": "bush", "part_id": SURFACE, "step_key": "prepare", "count": 2, "stack": GAP},
    ),
    "item note": (
        "POST",
        "/items/bush/notes",
        {"id": "n9", "kind": "counted", "amount": 3, "note": "in the drawer", "crew_member_id": BO},
    ),
    "kit list": ("POST", "/items/lists", {"kit": "Tail", "text": "name,qty\nBush,2\n", "take": True}),
    "orders": (
        "POST",
        "/orders",
        {"lines": [{"id": "or9", "offer_id": "bushes", "packs": 2, "ordered": True, "expected_on": "2026-05-21"}]},
    ),
    "arrival": (
        "POST",
        "/orders/coming/notes",
        {"id": "on9", "kind": "received", "packs": 1, "texts": {"thread": "M6"}, "crew_member_id": BO, "sure": True},
    ),
    "buying": ("PATCH", "/buying", {"version": 1, "currency": "SEK", "margin_days": 3}),
    "pitches": (
        "POST",
        "/costs/pitches",
        {"span": LONG, "sheet": LONG, "pitches": [{"text": "300 mm", "unit": "m"}], "rib": GRAMS},
    ),
    "remnant": (
        "POST",
        "/remnants",
        {"id": "r9", "data_sheet_id": TWILL, "length": LONG, "width": {"text": "400 mm", "unit": "m"}, "note": "top"},
    ),
}


def real(value, shop):
    """The order for parts that are there."""
    text = json.dumps(value).replace(SURFACE, shop.part("Left wing, upper skin"))
    text = text.replace(JOINT_ID, shop.part("Left wing, closing joint"))
    return json.loads(text.replace(RIGHT_ID, shop.part("Right wing, lower skin")))


def bought(shop):
    """A seller, a bush that is sold, and one pack of it on the way."""
    seller = {"id": "quay", "version": 0, "name": "Quay", "currency": "EUR", "postage": MONEY}
    shop.ask("POST", "/suppliers", seller)
    shop.ask("POST", "/items", {"id": "bush", "version": 0, "name": "Bush", "texts": {"thread": "M5"}})
    offer = {"id": "bushes", "version": 0, "supplier_id": "quay", "ware": "item:bush:both", "words": "pair",
             "amount": {"text": "2", "unit": ""}, "price": MONEY, "lead_days": 5}  # fmt: skip
    shop.ask("POST", "/offers", offer)
    shop.ask("POST", "/orders", {"lines": [{"id": "coming", "offer_id": "bushes", "packs": 3, "ordered": True}]}, 201)


@pytest.mark.parametrize("name", ORDERS)
def test_an_order_is_taken_once_and_with_one_odd_value_taken_or_refused_with_a_reason(shop, name):
    method, path, body = (real(part, shop) for part in ORDERS[name])
    if name in ON_A_JOB:
        part = shop.part("Left wing, upper skin")
        made_of = {"paint": stable_id("sheet", "Sallow enamel")} if ON_A_JOB[name] == "paint" else {}
        job = {"id": "jmore", "recipe": ON_A_JOB[name], "alone": True, "products": made_of}
        shop.ask("POST", f"/parts/{part}/jobs", job, 201)
    if name in BOUGHT:
        bought(shop)
    if name in TABLE:
        rows = [{"part_id": shop.part("Left wing, upper skin"), "job": ""}]
        shop.ask("POST", "/cut-plans", {"id": CUT, "data_sheet_id": TWILL, "rows": rows}, 201)
        shop.ask("POST", "/remnants", {"id": REMNANT, "data_sheet_id": TWILL, "length": LONG, "width": LONG}, 201)

    @settings(max_examples=examples(8), deadline=None)
    @given(data=st.data())
    def one_odd_value(data):
        odd = replaced(body, data.draw(st.sampled_from(list(places(body)))), data.draw(ODD))
        before = shop.get("/now?since=-1")["seq"]
        sent = {"method": method, "data": json.dumps(odd), "content_type": "application/json"}
        answer = shop.client.open(f"/api/v1{path}", **sent)
        assert answer.status_code in (200, 201, 404, 409, 422), answer.text
        if answer.status_code >= 400:
            assert json.loads(answer.text)["detail"]
            assert shop.get("/now?since=-1")["seq"] == before

    status = {"POST": 201, "PATCH": 200, "PUT": 200}[method] if name not in LOOKS else 200
    shop.ask(method, path, body, status)
    seq = shop.get("/now?since=-1")["seq"]
    shop.ask(method, path, body, 409 if method == "PATCH" else status)
    assert shop.get("/now?since=-1")["seq"] == seq
    one_odd_value()
    assert shop.ask("GET", "/today")["sentence"]  # the plan stands, whatever was sent

"""No page is left stale: what a change does not touch has the same answer after it."""

from __future__ import annotations

import json
import re
from pathlib import Path
from uuid import uuid4

import pytest
from tests.api.test_odd_orders import ORDERS as ODD_ORDERS
from tests.api.test_odd_orders import T4471, TARN, TWILL, bought, real
from tests.shapes import retyped

from kiteloom.views.pages import MADE_FROM, touched
from kiteloom.workshop.base.copies import CopyTo, keep_copy
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.plan.alerts import raise_alerts

#: What no change in the shop touches: the table of formats, what is being looked at or typed.
LASTING = {"formats", "preview", "far", "blank-sheet"}
#: Asked with something typed; made from what the others are made from.
TYPED = {"check-sheet", "cup", "cups", "pour", "filled", "limits", "job-look", "shape-look"}
#: A search goes on by itself, so no odd value is tried on it.
ORDERS = {
    **ODD_ORDERS,
    "better order": ("POST", "/better-order", {"id": "bo9", "seconds": 1, "seed": 1}),
    "study": ("POST", "/studies", {"id": "st9", "kind": "sure", "draws": 20}),
}
WEB = Path(__file__).parents[2] / "web" / "src"
MADE = {
    "batch": ["batch note"],
    "climate": ["outlook", "part temperature", "place", "post-cure"],
    "cut": ["cut plan", "remnant"],
    "crew": ["person", "absence", "station"],
    "gate": ["gate list", "gate note"],
    "iron": ["iron"],
    "item": ["item", "item use", "item note"],
    "log": ["log note", "correction of a note", "answer"],
    "order": ["supplier", "offer", "orders", "arrival"],
    "lot": ["lot", "lot note"],
    "plan": ["accept", "pin", "delivery"],
    "search": ["better order", "study"],
    "sheet": ["pump", "sheet"],
    "tick": ["ticks"],
    "witness": ["witness"],
    "weight": ["weighing"],
    "work": ["work"],
    "zone": ["zone"],
}


def answers(shop, names, part):
    """What these pages are answered."""
    step = f"part_id={part}&step_key=skin-1/layup"
    paths = {
        "loom-step": f"/loom/step?{step}",
        "accepted": "/plan/accepted",
        "loom": "/loom?compare=true",
        "loom-supposed": "/loom?supposed=true",
        "run-sheet": f"/run-sheet?{step}",
        "zones": "/climate/zones",
        "held": "/today/held",
        "sheet": f"/shelf/{TARN}",
        "lot": f"/lots/{T4471}",
        "batch": f"/batches/{stable_id('demo', 'batch', '1')}",
        "uses": f"/bench/{TARN}/uses",
        "part": f"/parts/{part}",
        "cut-plan": "/cut-plans/looked-at",
        "ways": f"/parts/{part}/ways?step_key=skin-1/layup",
    }
    of_part = ("shape", "plies", "pieces", "built-from", "job", "mix", "times", "deviations", "weight", "checks")
    paths |= {name: f"/parts/{part}/{name}" for name in of_part}
    paths["taps"] = f"/parts/{shop.part('Left wing, closing joint')}/taps"
    paths["gate"] = f"/gate?part_id={shop.part('Left wing, closing joint')}&step_key=bond"
    paths["joint"] = f"/parts/{shop.part('Left wing, closing joint')}/joint"
    paths |= {name: f"/parts/{part}/{name}" for name in ("tank", "cloth", "coats")}
    paths["cut-list"] = "/parts/sticks/cut-list"
    if "joints" in names:
        paths["joints"] = f"/airframes/{shop.get('/airframe')['id']}/joints"
    if "airframe-weights" in names:
        paths["airframe-weights"] = f"/airframes/{shop.get('/airframe')['id']}/weights"
    if "airframe-takes" in names:
        paths["airframe-takes"] = f"/airframes/{shop.get('/airframe')['id']}/takes"
    return {name: shop.get(paths.get(name, f"/{name}")) for name in sorted(names - TYPED)}


def with_every_job(shop, part):
    """A tank, cloth and paint on a part, and another that is sawn: every page of a job has something to say."""
    wrapped = {"rib_pitch_m": "400 mm", "rib_width_m": "10 mm"}
    covers = {"cloth": "Linden 92, cream", "cement": "Rush heat-set adhesive", "tape": "Linden edge tape"}
    for recipe, given, made_of in (
        ("tank", {}, {}),
        ("wrap", wrapped, covers),
        ("paint", {}, {"paint": "Sallow enamel"}),
    ):
        sheets = {role: stable_id("sheet", name) for role, name in made_of.items()}
        job = {"id": f"j{recipe}", "recipe": recipe, "alone": True, "given": given, "products": sheets}
        shop.ask("POST", f"/parts/{part}/jobs", job, 201)
    caps = {"name": "cap", "count": "4", "length": "3 m", "width": "20", "thickness": "12"}
    shape, airframe = {"kind": "pieces", "pieces": [caps]}, shop.get("/airframe")["id"]
    body = {"id": "sticks", "other_id": "", "name": "Caps", "airframe_id": airframe, "hand": "centre", "shape": shape}
    body |= {"assembly": "Wing", "side": "whole"}
    shop.ask("POST", "/airframes/parts", body, 201)
    shop.ask(
        "POST",
        "/parts/sticks/jobs",
        {"id": "jsticks", "recipe": "sticks", "alone": True, "products": {"glue": stable_id("sheet", "Heron glue")}},
        201,
    )


def orders_of(shop, topic, part):
    """Orders that change something of a topic, for parts that are there."""
    if topic in MADE:
        return [real(ORDERS[name], shop) for name in MADE[topic]]
    if topic == "alert":
        raise_alerts(shop.store, shop.clock.at)
        return [("POST", f"/alerts/{shop.get('/weather')['alerts'][0]['id']}/silence", {})]
    if topic == "copy":
        return []
    if topic == "shop":
        return [("PATCH", "/shop", {"version": shop.get("/shop")["version"], "units": "us"})]
    if topic == "part":
        version = shop.get(f"/parts/{part}/built-from")["version"]
        return [("POST", f"/parts/{part}/built-from", {"version": version, "needs": [], "thing": "wing"})]
    if topic == "shape":
        shape = shop.get(f"/parts/{part}/shape")
        return [("PATCH", f"/shapes/{shape['shape_id']}", retyped(shape, sections={2: {"naca": "0012"}}))]
    if topic == "airframe":
        frame = shop.get("/airframe")
        return [("PATCH", f"/airframes/{frame['id']}", {"version": frame["version"], "name": "Warbler"})]
    assert topic == "design"
    minutes = {"version": 1, "step_key": "prepare", "minutes": {"text": "30", "unit": "min"}}
    return [
        ("PATCH", f"/parts/{part}/minutes", minutes),
        ("POST", f"/parts/{part}/jobs", {"id": "jtested", "recipe": "prime", "only_here": True}),
    ]


@pytest.mark.parametrize("topic", sorted(set().union(*MADE_FROM.values())))
def test_what_a_change_does_not_touch_has_the_same_answer_after_it(shop, left_upper, topic):
    with_every_job(shop, left_upper)
    bought(shop)
    plan = {"data_sheet_id": TWILL, "rows": [{"part_id": left_upper, "job": ""}]}
    shop.ask("POST", "/cut-plans", {"id": "looked-at", **plan}, 201)
    orders = orders_of(shop, topic, left_upper)
    standing = set(MADE_FROM) - set(touched([topic]))
    before, seq = answers(shop, standing, left_upper), shop.get("/now?since=-1")["seq"]
    for method, path, body in orders:
        shop.ask(method, path, body, status=None)
    if topic == "copy":  # the watch does it, nobody asks for it
        keep_copy(shop.store, CopyTo(shop.folder / "nowhere"), shop.clock.at)
    heard = shop.get(f"/now?since={seq}")
    topics = [change["topic"] for change in heard["changes"]]
    # A search that has begun tells of itself again.
    assert topics == [topic] * (len(topics) if topic == "search" else len(orders) or 1)
    assert len(topics) >= len(orders)
    assert set(heard["touched"]) == set(MADE_FROM) - standing
    after = answers(shop, standing, left_upper)
    assert {name for name in standing - TYPED if after[name] != before[name]} == set()


def test_every_question_of_the_browser_says_what_it_is_made_from():
    asked = {key for file in WEB.rglob("*.ts*") for key in re.findall(r"queryKey: \['([a-z-]+)'", file.read_text())}
    assert asked - LASTING == set(MADE_FROM)


def test_a_write_says_what_changed_since_its_tablet_heard_last(shop, left_upper):
    seq = shop.get("/now")["seq"]

    def told(heard, path="/work", **order):
        body = {"id": str(uuid4()), "part_id": left_upper, "step_key": "prepare", **order}
        answer = shop.client.post(f"/api/v1{path}", json=body, headers={"Kite-Loom-Heard": str(heard)})
        said = answer.headers.get("Kite-Loom-Changed")
        return answer.status_code, json.loads(said) if said else None

    status, said = told(seq, kind="start")
    now = shop.get(f"/now?since={seq}")
    assert (status, said) == (201, {key: now[key] for key in ("now", "seq", "touched")})
    assert "today" in said["touched"]
    assert told(seq, kind="finish")[1]["seq"] > said["seq"]  # all since then, its own change too
    # Refused, not said how far it heard, or too far behind: it asks by itself.
    assert told(said["seq"], kind="nothing") == (422, None)
    assert told("", kind="pause")[1] is None
    assert told("9" * 40, kind="start")[1] is None
    for n in range(51):
        shop.ask("POST", "/log-notes", {"id": f"n{n}", "kind": "note", "words": "Swept."}, 201)
    assert told(seq, kind="pause")[1] is None

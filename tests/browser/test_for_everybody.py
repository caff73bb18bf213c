"""Every page read by axe-core: WCAG 2.2 AA, on a desk and on a tablet held upright; and how large its words are."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from kiteloom.workshop.base.ids import stable_id
from tests.browser.conftest import open_page

AXE = (Path(__file__).parents[2] / "web/node_modules/axe-core/axe.min.js").read_text()
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]
GLASS = f"sheet:{stable_id('sheet', 'Sedge 163 twill glass')}:both"
#: The smallest words on a page, as they are drawn: scaled text of drawings counts by its real size.
SMALL = """() => {
  const shown = []
  for (const text of document.querySelectorAll('main *, header *, nav *')) {
    const own = [...text.childNodes].some((node) => node.nodeType === 3 && node.data.trim())
    const box = text.getBoundingClientRect()
    if (!own || !box.width || !box.height || getComputedStyle(text).visibility === 'hidden') continue
    const matrix = text.ownerSVGElement ? text.getScreenCTM() : null
    const scale = matrix ? Math.hypot(matrix.c, matrix.d) : 1
    shown.push([parseFloat(getComputedStyle(text).fontSize) * scale, text.textContent.trim().slice(0, 40)])
  }
  return shown.sort((a, b) => a[0] - b[0])[0]
}"""


def zoned(shop, part):
    """The part's path of plies, doubled at its root in a second bag and with a strip under a hinge."""
    view = shop.get(f"/api/v1/parts/{part}/plies")
    rows = [
        {"cloth_id": ply["cloth_id"], "angle": {"text": str(ply["angle_deg"]), "unit": "°"}} for ply in view["plies"]
    ]
    rows[2:2] = [{**rows[1], "zone": "root", "stage": 2}, {**rows[1], "zone": "root", "stage": 2}]
    places = {"from_m": "0 m", "from_share": "70 %", "to_m": "5 m", "to_share": "70 %", "width_m": "80 mm"}
    zones = [
        {"name": "root", "texts": {"from_m": "0 m", "to_m": "1.5 m"}},
        {"name": "hinge", "kind": "strip", "texts": places},
        {"name": "patch", "kind": "drawn", "corners": "2 m; 10 %\n3 m; 10 %\n3 m; 40 %"},
    ]
    book = {"job": view["job"], "version": view["version"], "plies": rows, "zones": zones}
    core = {"core_id": view["core"]["core_id"], "core_after": 4}
    shop.post(f"/api/v1/parts/{part}/plies", book | core, "PUT")
    return f"/part/{part}/plies"


def on_the_table(shop, part):
    """A cut plan with a layout."""
    sheet = next(row["sheet_id"] for row in shop.get("/api/v1/cut-plans")["to_cut"] if "163" in row["product"])
    rows = [{"part_id": part, "job": ""}]
    plan = shop.post("/api/v1/cut-plans", {"id": "looked-at", "data_sheet_id": sheet, "rows": rows})["id"]
    way = shop.get(f"/api/v1/cut-plans/{plan}")["ways"][0]
    shop.patch(f"/api/v1/cut-ways/{way['id']}", {"version": way["version"], "texts": {"seconds": "0"}})
    shop.post(f"/api/v1/cut-ways/{way['id']}/layout", {})
    return f"/cut/{plan}"


def bought(shop, part):
    """Somebody who sells a bush and cloth, the bush on its way, and a step that takes it."""

    def plain(text):
        return {"text": text, "unit": ""}

    shop.post(
        "/api/v1/suppliers", {"id": "quay", "version": 0, "name": "Quay", "currency": "EUR", "postage": plain("6")}
    )
    shop.post("/api/v1/items", {"id": "bush", "version": 0, "name": "Bush", "texts": {"thread": "M5"}})
    for key, ware, amount in (("bushes", "item:bush:both", "2"), ("roll", GLASS, "8150")):
        offer = {"id": key, "version": 0, "supplier_id": "quay", "ware": ware, "words": key, "amount": plain(amount)}
        offer["amount"]["unit"] = "g" if ware == GLASS else ""
        shop.post("/api/v1/offers", {**offer, "price": plain("38"), "lead_days": 9})
    line = {"id": "coming", "offer_id": "bushes", "packs": 2, "ordered": True}
    shop.post("/api/v1/orders", {"lines": [line]})
    use = {"id": "use", "item_id": "bush", "part_id": part, "step_key": "skin-1/layup", "count": 2}
    shop.post("/api/v1/items/uses", {**use, "stack": {"text": "12", "unit": "mm"}})


def jobs_with_pages(shop, part):
    """Cloth, coats and a leak test on a part; another that is sawn; their tabs."""
    wrapped = {"rib_pitch_m": "400 mm", "rib_width_m": "10 mm", "loose_ribs": "2"}
    covers = {"cloth": "Linden 92, cream", "cement": "Rush heat-set adhesive", "tape": "Linden edge tape"}
    found = []
    for recipe, given, made_of, tab in (
        ("tank", {"volume_l": "38 l"}, {}, "leak"),
        ("wrap", wrapped, covers, "cloth"),
        ("paint", {}, {"paint": "Sallow enamel"}, "coats"),
    ):
        products = {role: stable_id("sheet", name) for role, name in made_of.items()}
        job = {"id": f"j{recipe}", "recipe": recipe, "alone": True, "given": given, "products": products}
        shop.post(f"/api/v1/parts/{part}/jobs", job)
        key = next(one["key"] for one in shop.get(f"/api/v1/parts/{part}")["jobs"] if one["id"] == f"j{recipe}")
        found.append(f"/part/{part}/{tab}?job={key}")
    for n, (gauge, own) in enumerate((("7", "20"), ("6.4", "17.5"))):
        read = {"id": f"leak {n}", "gauge": {"text": gauge, "unit": "kPa"}, "begins": False, "note": "",
                "temperature": {"text": own, "unit": "°C"}, "barometer": {"text": "1013", "unit": "mbar"}}  # fmt: skip
        shop.post(f"/api/v1/parts/{part}/tank", read)
    caps = {"name": "cap", "count": "4", "length": "3 m", "width": "20", "thickness": "12"}
    body = {"id": "sticks", "other_id": "", "name": "Caps", "airframe_id": shop.get("/api/v1/airframe")["id"]}
    body |= {"hand": "centre", "assembly": "Wing", "side": "whole", "shape": {"kind": "pieces", "pieces": [caps]}}
    shop.post("/api/v1/airframes/parts", body)
    glue = {"glue": stable_id("sheet", "Heron glue")}
    shop.post("/api/v1/parts/sticks/jobs", {"id": "jsticks", "recipe": "sticks", "alone": True, "products": glue})
    return [*found, "/part/sticks/cut-list"]


def pages(shop):
    left, lower = (shop.part_id(name) for name in ("Left wing, upper skin", "Left wing, lower skin"))
    slow = next(p["id"] for p in shop.get("/api/v1/bench")["products"] if p["name"] == "Tarn 210 with 214 slow")
    batch = shop.get(f"/api/v1/parts/{lower}/mix")["batches"][0]["id"]
    closing, plane = shop.part_id("Left wing, closing joint"), shop.part_id("Tailplane")
    shop.post("/api/v1/irons", {"id": "iron", "version": 0, "name": "The small iron", "hidden": False})
    for dial, reads in ((2, "90 °C"), (5, "170 °C")):
        read = {"id": f"dial {dial}", "dial": {"text": str(dial), "unit": ""}, "reads": {"text": reads, "unit": "°C"}}
        shop.post("/api/v1/irons/iron/readings", read)
    bought(shop, left)
    return [
        "/today",
        "/airframe",
        "/found",
        "/cure",
        "/loom",
        "/logbook",
        "/stores",
        "/stores/needs",
        "/stores/order",
        "/stores/orders?order=coming",
        "/stores/items?item=bush",
        "/stores/costs",
        f"/stores/{slow}",
        "/stores/new?kind=varnish",
        "/cut",
        on_the_table(shop, left),
        f"/weights/{shop.get('/api/v1/airframe')['id']}",
        f"/part/{left}/weight",
        "/gates",
        f"/gates/{closing}/bond",
        f"/part/{closing}/joint",
        f"/part/{plane}/checks",
        f"/joints/{shop.get('/api/v1/airframe')['id']}",
        "/irons",
        *jobs_with_pages(shop, left),
        "/air",
        "/crew",
        "/mix",
        f"/mix?product={slow}",
        f"/mix?part={left}&step=skin-1/layup",
        f"/mix?batch={batch}",
        zoned(shop, left),
        f"/run/{left}/skin-1%2Flayup",
        *(f"/part/{lower}/{tab}" for tab in ("shape", "steps", "what", "plies", "mix", "record")),
    ]


@pytest.mark.parametrize(("width", "height", "least"), [(1280, 800, 14), (820, 1180, 14), (390, 844, 12)])
def test_every_page_can_be_read_by_everybody(shop, browser, width, height, least):
    page = open_page(browser, width, height)
    page.evaluate(AXE)
    found = []
    for path in pages(shop):
        page.goto(shop.url + path)
        page.get_by_role("heading").first.wait_for()
        page.wait_for_timeout(500)
        page.evaluate(AXE)
        said = page.evaluate("(rules) => axe.run({ runOnly: rules })", RULES)
        found += [
            f"{path}: {one['id']}: {one['help']}: {one['nodes'][0]['target']} ({len(one['nodes'])})"
            for one in said["violations"]
        ]
        small = page.evaluate(SMALL)
        if small and small[0] < least - 0.05:
            found.append(f"{path}: “{small[1]}” is {small[0]:.1f} px high")
        wide = page.evaluate("document.documentElement.scrollWidth - innerWidth")
        high = page.evaluate("document.documentElement.scrollHeight - innerHeight")
        if wide > 0 or high > 0:
            found.append(f"{path}: the page itself scrolls by {wide} × {high}")
    page.close()
    assert not found, "\n" + "\n".join(found)


#: What a shop in US units, with a clock of twelve hours and the month first, has nowhere on its pages.
FOREIGN = {
    "a clock of 24 hours": r"\b(?:0\d|1[3-9]|2[0-3]):[0-5]\d\b",
    "the day first": r"\b\d{1,2} (?:Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec)\b",
    "metric units": r"\d ?(?:°C|kg|m²|g/m²|g)(?![\w/])",
}
#: Every word on a page, and what stands in its fields; a pack and its price are in the maker's own words, notes in
#: those of who wrote them.
WORDS = """() => [...document.querySelectorAll('[data-own-words]')].forEach((own) => (own.hidden = true)) ||
  [document.body.innerText, ...[...document.querySelectorAll('input, textarea')]
  .filter((field) => !/^(Packs|Price)/.test(field.labels?.[0]?.innerText ?? ''))
  .flatMap((field) => [field.value, field.placeholder])].join('\\n')"""


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (390, 844)])
def test_a_us_shop_has_its_own_units_clock_and_days_on_every_page_and_they_fit(shop, browser, width, height):
    for says in ({"units": "us"}, {"clock": "12", "dates": "month"}):
        shop.patch("/api/v1/shop", {"version": shop.get("/api/v1/shop")["version"], **says})
    page = open_page(browser, width, height)
    found = []
    for path in pages(shop):
        page.goto(shop.url + path)
        page.get_by_role("heading").first.wait_for()
        page.wait_for_timeout(500)
        words = page.evaluate(WORDS)
        assert len(words) > 100
        for what, pattern in FOREIGN.items():
            found += [f"{path}: {what}: {line}" for line in words.split("\n") if re.search(pattern, line)]
        wide = page.evaluate("document.documentElement.scrollWidth - innerWidth")
        if wide > 0:
            found.append(f"{path}: it is {wide} px wider than the screen")
    page.close()
    assert not found, "\n" + "\n".join(found)

"""The mixing bench: cups, scale, top-ups, clocks, look-alikes, labels, and what becomes of a cup."""

from __future__ import annotations

import io
from datetime import timedelta

import pypdf
import pytest
from PIL import Image
from tests.conftest import key_of

from kiteloom.standins.scale import SimulatedScale

SLOW, FAST = "Tarn 210 with 214 slow", "Tarn 210 with 212 fast"


def grams(value):
    return {"text": str(value), "unit": "g"}


def vast():
    """A picture of 20,000 × 20,000 points in a few kilobytes."""
    drawn = io.BytesIO()
    Image.new("1", (20_000, 20_000)).save(drawn, "PNG")
    return drawn.getvalue()


def product(shop, name):
    return next(p for p in shop.get("/bench")["products"] if p["name"] == name)


def keep(shop, part, step="skin-1/layup", name=SLOW, masses=(300, 84), status=201, **more):
    sheet = product(shop, name)
    body = {
        "id": more.pop("id", key_of("batch", str(shop.clock.at), str(masses))),
        "part_id": part,
        "step_key": step,
        "sheet_id": sheet["id"],
        "resin_lid": sheet["resin_lid"],
        "hardener_lid": sheet["hardener_lid"],
        "wanted_g": sum(masses),
        "resin": grams(masses[0]),
        "hardener": grams(masses[1]),
        **more,
    }
    return shop.ask("POST", "/batches", body, status=status)


def later(shop, **by):
    shop.clock.at += timedelta(**by)


def test_an_amount_is_split_at_the_shops_temperature_and_a_coarse_scale_is_told(shop, monkeypatch):
    body = {"sheet_id": product(shop, FAST)["id"], "amount": grams(3000), "spread": grams(40)}
    found = shop.ask("POST", "/bench/cups", body)
    assert len(found["cups"]) > 3
    assert found["sentence"].startswith(f"{len(found['cups'])} cups of ")
    assert "°C" in found["sentence"]
    assert found["cups"][1]["mix_at"] < found["cups"][0]["use_by"]
    assert any(given["assumed"] for given in found["largest"]["given"])
    small = shop.ask("POST", "/bench/cups", {**body, "amount": grams(40)})
    assert "can't weigh the smaller part of a 45.0 g cup to ±3 %" in small["coarse"]
    assert small["at_least_g"] == pytest.approx(131.4, abs=0.1)
    monkeypatch.setitem(shop.app.extensions, "kiteloom.scale", SimulatedScale())  # that one counts in tenths
    assert shop.ask("POST", "/bench/cups", {**body, "amount": grams(40)})["coarse"] == ""
    lid = shop.refused(
        "POST", "/bench/cups", {**body, "sheet_id": product(shop, "Heron 30 paste")["id"], "spread": grams(0)}
    )
    assert "must be above 0" in lid["detail"]


def test_a_filled_mix_is_told_in_grams_and_balloons_in_a_structural_joint_are_asked_about(shop):
    fillers = {powder["name"]: powder for powder in shop.get("/bench")["powders"]}
    body = {"sheet_id": product(shop, SLOW)["id"], "powder_id": fillers["Puffin balloons"]["id"], "use": "fairing"}
    body |= {"consistency": "peanut butter", "volume": {"text": "0.5 l", "unit": "ml"}}
    light = shop.ask("POST", "/bench/filled", body)
    assert light["question"] == ""
    assert light["sentence"].endswith("of Puffin balloons, like peanut butter: 500 ml of 0.62 g/ml.")
    joint = shop.ask("POST", "/bench/filled", {**body, "use": "structural"})
    assert "In a structural joint it breaks; take flock or fibre?" in joint["question"]
    flour = {**body, "powder_id": fillers["Alder flour"]["id"], "consistency": "syrup"}
    assert "gives no parts for “syrup”" in shop.refused("POST", "/bench/filled", flour)["detail"]


def test_three_weighed_strokes_make_a_cup_in_strokes(shop):
    sheet = product(shop, SLOW)
    for part, weighed in (("resin", 30), ("hardener", 8.4)):
        body = {"id": f"pump {part}", "component": part, "strokes": 3, "grams": grams(weighed)}
        shop.ask("POST", f"/bench/{sheet['id']}/pumps", body, status=201)
    ways = shop.ask("POST", "/bench/cup", {"sheet_id": sheet["id"], "amount": grams(256)})["other_ways"]
    assert ways == [
        "By volume: 175 ml of resin, 58 ml of hardener.",
        "By pump: 20 strokes of resin, 20 of hardener; 256 g, 0.0 % off, within tolerance.",
    ]
    few = {"id": "p", "component": "resin", "strokes": 2, "grams": grams(20)}
    assert "weigh 3 or more" in shop.refused("POST", f"/bench/{sheet['id']}/pumps", few)["detail"]


def test_a_look_alike_that_was_used_in_the_last_day_is_named(shop, left_upper):
    assert product(shop, FAST)["at_hand"] == ["Tarn 210 with 214 slow was mixed Wed 13 May 18:25 at 100 : 28 by weight"]
    assert product(shop, "Mere 8")["at_hand"] == []
    later(shop, days=2)
    assert product(shop, FAST)["at_hand"] == []
    assert product(shop, FAST)["look_alikes"]
    keep(shop, left_upper)
    assert "mixed 09:20" in product(shop, FAST)["at_hand"][0]


def test_a_top_up_has_an_end_and_what_was_used_has_none(shop):
    sheet = product(shop, FAST)["id"]
    body = {"sheet_id": sheet, "resin": grams(300), "hardener": grams(140), "since": shop.clock.at.isoformat()}
    over = shop.ask("POST", "/bench/pour", body)
    assert over["judgement"]["top_up"]["component"] == "resin"
    assert "Do it within " in over["sentence"]
    minutes = int(over["sentence"].split("within ")[1].split()[0])
    later(shop, minutes=minutes - 2)
    assert "Do it within 2 min." in shop.ask("POST", "/bench/pour", body)["sentence"]
    later(shop, minutes=10)
    assert "make a new one" in shop.ask("POST", "/bench/pour", body)["sentence"]
    used = shop.ask("POST", "/bench/pour", {**body, "used": True})
    assert used["judgement"]["top_up"] is None
    assert used["sentence"].startswith("Some of it is used, so it can't be put right any more")


def test_a_wrong_cup_that_was_used_is_marked_and_leads_to_what_it_went_on(shop, left_upper):
    kept = keep(shop, left_upper, masses=(300, 120), used=True)
    assert kept["care"] == ["Marked bad: used before it was within tolerance."]
    assert shop.get("/weather")["cups"] == []  # nobody is told to use it up
    rib = shop.part("Left flap, upper skin")
    note = {"id": "on", "kind": "on", "part_id": rib}
    trail = shop.ask("POST", f"/batches/{kept['id']}/notes", note, status=201)
    assert trail["bad"]
    assert [place["part"] for place in trail["touched"]] == ["Left wing, upper skin", "Left flap, upper skin"]
    assert (
        "no part is named" in shop.refused("POST", f"/batches/{kept['id']}/notes", {"id": "x", "kind": "on"})["detail"]
    )


def cups(shop):
    return [(cup["state"], cup["short"]) for cup in shop.get("/weather")["cups"]]


def alerts(shop):
    from kiteloom.workshop.plan.alerts import raise_alerts

    raise_alerts(shop.store, shop.clock.at)
    return [alert["words"] for alert in shop.get("/weather")["alerts"] if alert["kind"] == "cup"]


def test_an_open_cup_counts_down_is_heard_before_it_goes_off_and_is_forgotten_when_used_up(shop, left_upper):
    kept = keep(shop, left_upper, name=FAST, masses=(300, 102))
    shop.clock.at -= timedelta(seconds=1)  # a page that had asked for the time before, and reads after
    assert cups(shop) == [("open", "Tarn: use up")]
    shop.clock.at += timedelta(seconds=1)
    assert alerts(shop) == []
    until = shop.get("/weather")["cups"][0]["until"]
    shop.clock.at = type(shop.clock.at).fromisoformat(until) - timedelta(minutes=4)
    assert cups(shop)[0][0] == "soon"
    assert alerts(shop)[0].endswith("use it up within 4 min.")
    later(shop, minutes=5)
    assert cups(shop) == [("gone", "Tarn: gone off")]
    assert alerts(shop)[0].endswith("has gone off: use none of what is left.")
    body = {"id": "done", "kind": "emptied", "grams": grams(35)}
    assert shop.ask("POST", f"/batches/{kept['id']}/notes", body, status=201)["leftover_g"] == 35
    assert cups(shop) == []
    too_much = {"id": "more", "kind": "emptied", "grams": grams(500)}
    assert "can't be above 402 g" in shop.refused("POST", f"/batches/{kept['id']}/notes", too_much)["detail"]


def test_varnish_stands_first_and_then_its_clock_runs(shop):
    ribs = shop.part("Left wing, aft ribs")
    keep(shop, ribs, "coat-2/brush", "Sallow varnish", (210, 100))
    assert cups(shop) == [("stands", "Sallow: stands")]
    later(shop, minutes=31)
    assert cups(shop)[0][0] == "open"
    assert "has stood long enough: use it within " in alerts(shop)[0]


def test_a_bigger_cup_and_a_warmer_shop_leave_less_time(shop, left_upper):
    def minutes_left(masses):
        keep(shop, left_upper, name=FAST, masses=masses)
        cup = next(c for c in shop.get("/weather")["cups"] if c["grams"] == sum(masses))
        return (type(shop.clock.at).fromisoformat(cup["until"]) - shop.clock.at).total_seconds() / 60

    assert minutes_left((400, 136)) < minutes_left((100, 34))
    cold = minutes_left((200, 68))
    later(shop, hours=6)
    assert minutes_left((201, 68.3)) < cold  # in the afternoon


def test_what_else_could_use_a_mix_leaves_out_what_is_done(shop, left_upper):
    kept = keep(shop, left_upper)
    others = shop.get(f"/batches/{kept['id']}")["others"]
    assert others
    assert all(use["part"] != "Rudder" for use in others)  # glued with another product
    # What begins after the cup is gone could not use it.
    until = shop.get("/weather")["cups"][0]["until"][11:16]
    assert all(use["now"] or use["words"].split("planned ")[1][:5] <= until for use in others)
    uses = shop.get(f"/bench/{product(shop, 'Heron glue')['id']}/uses")["uses"]
    assert {use["part"] for use in uses} == {"Rudder"}


def test_two_who_keep_the_same_pour_keep_it_once_unless_it_is_another(shop, left_upper):
    keep(shop, left_upper, id="one")
    problem = keep(shop, left_upper, id="two", masses=(300.4, 84.2), status=422)
    assert "kept 300 g and 84 g for this step 0 min ago" in problem["detail"]
    keep(shop, left_upper, id="two", masses=(300.4, 84.2), another=True)
    later(shop, minutes=11)
    keep(shop, left_upper, id="three")
    assert len(shop.get(f"/parts/{left_upper}/mix")["batches"]) == 3


def test_a_batch_keeps_its_air_and_lots_and_says_what_asks_for_care(shop, left_upper):
    lots = {lot["name"].split(",")[0]: lot["id"] for lot in shop.get("/bench")["lots"]}
    kept = keep(shop, left_upper, lot_id=lots["T-4390"])
    assert (kept["rh_pct"], kept["margin_k"]) == pytest.approx((77, 4), abs=1)
    assert kept["care"] == ["Lot T-4390 expired on 2 May 2026."]
    later(shop, minutes=1)
    beyond = keep(shop, left_upper, lot_id=lots["T-4390"], masses=(500, 140))
    assert beyond["care"] == ["Lot T-4390: 384 g more used than came; count it."]
    shelf = shop.get(f"/lots/{lots['T-4390']}")["lot"]
    assert shelf["left"] == pytest.approx(640 - 384 - 640)
    assert "T-4390" not in [lot["name"].split(",")[0] for lot in shop.get("/bench")["lots"]]  # by the book it is empty
    wrong = keep(shop, left_upper, lot_id=lots["H-118"], masses=(9, 2), status=422)
    assert "lot H-118 is not of Tarn 210 with 214 slow" in wrong["detail"]


def test_a_product_taken_off_the_shelf_while_its_cup_is_open_stays_on_the_bench(shop, left_upper):
    keep(shop, left_upper, name=FAST, masses=(300, 102), id="fast")
    fast = product(shop, FAST)["id"]
    shop.ask("PATCH", f"/shelf/{fast}/hidden", {"version": 1, "hidden": True})
    assert product(shop, FAST)["off_shelf"] is True
    assert cups(shop)[0][1] == "Tarn: use up"
    keep(shop, left_upper, name=FAST, masses=(100, 34), id="the cup that stood there")
    later(shop, days=2)
    assert FAST not in [p["name"] for p in shop.get("/bench")["products"]]


def test_a_photograph_is_kept_with_its_batch_and_what_is_none_is_refused(shop, left_upper):
    kept = keep(shop, left_upper)
    drawn = io.BytesIO()
    Image.new("RGB", (40, 30), "sienna").save(drawn, "JPEG")
    picture = drawn.getvalue()
    for _ in range(2):
        sent = shop.client.put(f"/api/v1/batches/{kept['id']}/photos/p1", data=picture, content_type="image/jpeg")
        assert sent.status_code == 201
    assert shop.get(f"/batches/{kept['id']}")["photos"] == ["p1"]
    (photo,) = shop.get(f"/parts/{left_upper}/mix")["photos"]
    assert photo["id"] == "p1"
    assert photo["words"].startswith(kept["step_name"])
    got = shop.client.get("/api/v1/photos/p1")
    assert (Image.open(io.BytesIO(got.data)).size, got.content_type) == ((40, 30), "image/jpeg")
    text = shop.client.put(f"/api/v1/batches/{kept['id']}/photos/p2", data=b"<svg onload=x>", content_type="image/png")
    assert (text.status_code, text.json["errors"][0]["field"]) == (422, "photo")
    for name, data in (("sound", b"RIFF\x00\x00\x00\x00WAVEfmt "), ("three bytes", b"\xff\xd8\xff"), ("vast", vast())):
        sent = shop.client.put(f"/api/v1/batches/{kept['id']}/photos/{name}", data=data, content_type="image/png")
        assert sent.status_code == 422, name


def test_lid_labels_say_part_ratio_and_partner_and_fill_a_page(shop):
    answer = shop.client.get("/api/v1/lids")
    pages = pypdf.PdfReader(io.BytesIO(answer.data)).pages
    products = [p for p in shop.get("/bench")["products"] if not p["off_shelf"]]
    assert len(pages) == -(-len(products) // 4)
    text = "\n".join(page.extract_text() for page in pages)
    for one in products:
        assert one["resin_lid"] in text
        assert f"only with {one['resin_lid']}" in text
    alone = shop.client.get(f"/api/v1/lids?sheet={product(shop, SLOW)['id']}").data
    assert "100 : 28 by weight" in pypdf.PdfReader(io.BytesIO(alone)).pages[0].extract_text()


class Seconds:
    def __init__(self):
        self.at = 0.0

    def __call__(self):
        return self.at


@pytest.fixture
def scale(shop):
    device = SimulatedScale(clock=Seconds())
    shop.app.extensions["kiteloom.scale"] = device
    return device


def on_scale(shop, scale, seconds=0.0, **order):
    scale.clock.at += seconds
    return shop.ask("POST", "/scale", order)


def test_the_scale_settles_slowly_drifts_a_little_and_is_set_to_zero(shop, scale):
    on_scale(shop, scale, put_g=42.0)
    assert on_scale(shop, scale, 0.1)["grams"] < 30
    settled = on_scale(shop, scale, 5)
    assert (settled["grams"], settled["steady"]) == (pytest.approx(42, abs=0.3), True)
    on_scale(shop, scale, tare=True)
    assert on_scale(shop, scale, 1)["grams"] == pytest.approx(0, abs=0.2)
    on_scale(shop, scale, pour_g_s=10)
    assert on_scale(shop, scale, 20)["steady"] is False
    on_scale(shop, scale, pour_g_s=0)
    assert on_scale(shop, scale, 5)["grams"] == pytest.approx(200, abs=0.3)


def test_a_scale_that_is_unplugged_in_mid_pour_says_so_and_comes_back(shop, scale):
    on_scale(shop, scale, put_g=100)
    silent = on_scale(shop, scale, 3, plugged=False)
    assert (silent["there"], silent["grams"]) == (True, None)
    assert silent["problem"].startswith("The scale does not answer. What was weighed stays")
    assert on_scale(shop, scale, tare=True)["grams"] is None
    assert on_scale(shop, scale, 3, plugged=True)["grams"] == pytest.approx(100, abs=0.5)


def test_a_cup_lifted_off_reads_below_nothing_and_says_what_to_do(shop, scale):
    on_scale(shop, scale, put_g=12)
    on_scale(shop, scale, 5, tare=True)
    lifted = on_scale(shop, scale, 0, put_g=-12)
    lifted = on_scale(shop, scale, 5)
    assert lifted["problem"].startswith("The scale reads -1")
    assert lifted["problem"].endswith("was the cup lifted? Put it back, or set it to zero.")


def test_without_a_scale_weights_are_typed(shop):
    assert shop.get("/scale") == {
        "there": False,
        "grams": None,
        "steady": False,
        "step_g": None,
        "problem": "",
        "simulated": False,
        "noise_g": 1,
        "zero_g": 0.5,
    }
    assert "type what it shows" in shop.refused("POST", "/scale", {"tare": True})["detail"]


def settings(shop, **more):
    return shop.ask("PATCH", "/shop", {"version": shop.get("/shop")["version"], **more})


def test_too_big_a_cup_is_told_before_it_is_poured_and_a_shop_says_how_big(shop):
    sheet = product(shop, SLOW)["id"]

    def against(cup, left=None):
        return shop.ask("POST", "/bench/cup", {"sheet_id": sheet, "amount": grams(cup), "left_g": left})["against"]

    assert against(480, 2900) == []
    assert "5.00 kg is more than the 500 g of one cup here" in against(5000)[0]
    assert against(480, 100) == ["480 g is more than the 100 g that are still to mix."]
    settings(shop, bench={"scale_unit": "g", "scale_step": grams(0.5), "largest_cup": grams(300)})
    assert len(against(480)) == 1
    cups_of = {"sheet_id": sheet, "amount": grams(2400), "spread": grams(60)}
    split = shop.ask("POST", "/bench/cups", cups_of)
    assert all(cup["total_g"] <= 300 for cup in split["cups"])
    assert "No cup here is larger" in split["sentence"]
    assert next(g["value"] for g in split["largest"]["given"] if g["name"] == "the scale's step") == 0.5
    wrong = {"bench": {"scale_unit": "g", "largest_cup": grams(5)}}
    view = {"version": shop.get("/shop")["version"], **wrong}
    assert "is 5 g; it can't be below 20 g" in shop.refused("PATCH", "/shop", view)["detail"]


def test_swapped_figures_are_asked_about_and_the_filler_is_called_for_by_what_was_poured(shop, left_upper):
    sheet = product(shop, SLOW)["id"]
    filler = next(powder for powder in shop.get("/bench")["powders"] if powder["name"] == "Thistle flock")
    body = {"sheet_id": sheet, "filler_id": filler["id"], "consistency": filler["consistencies"][0]}
    wrong = shop.ask("POST", "/bench/pour", {**body, "resin": grams(18.2), "hardener": grams(64.8)})
    assert wrong["swapped"].startswith("Are the two figures swapped? 64.8 g of Tarn 210 A with 18.2 g of Tarn 214 B")
    assert wrong["filler"] is None  # not into a mix that is wrong
    right = shop.ask("POST", "/bench/pour", {**body, "resin": grams(200), "hardener": grams(56)})
    assert right["swapped"] == ""
    called = right["filler"]
    assert f"{called['grams']:.1f} g of Thistle flock" in called["words"]
    twice = shop.ask("POST", "/bench/pour", {**body, "resin": grams(400), "hardener": grams(112)})
    assert twice["filler"]["grams"] == pytest.approx(2 * called["grams"])
    stirred = {"sheet_id": filler["id"], "consistency": filler["consistencies"][0], "grams": grams(12)}
    kept = keep(shop, left_upper, filler=stirred)
    assert kept["words"].endswith(f"; 12.0 g of Thistle flock in it, like {filler['consistencies'][0]}.")
    running = shop.ask("POST", "/bench/pour", {"sheet_id": sheet, "resin": grams(150), "wanted_g": 256})
    assert running["to_go"] == "50.0 g of Tarn 210 A to go."


def test_a_mix_for_no_planned_step_says_what_for_and_is_on_no_part(shop, left_upper):
    assert "say coupon, repair or what else" in keep(shop, None, "", status=422)["detail"]
    coupon = keep(shop, None, "", purpose="A coupon")
    assert (coupon["step_name"], coupon["part"], coupon["letter"]) == ("A coupon", "", "A")
    cup = shop.get("/weather")["cups"][0]
    assert (cup["letter"], cup["words"]) == ("A", "Cup A, 384 g of Tarn 210 with 214 slow, for a coupon: use it up")
    assert keep(shop, left_upper, id="next")["letter"] == "B"
    assert shop.get(f"/batches/{coupon['id']}")["touched"] == []
    shop.ask("POST", f"/batches/{coupon['id']}/notes", {"id": "up", "kind": "emptied"}, 201)
    assert [open_["letter"] for open_ in shop.get("/weather")["cups"]] == ["B"]


def test_a_batch_is_corrected_in_whatever_was_written_down_wrong(shop, left_upper):
    lots = {lot["name"].split(",")[0]: lot["id"] for lot in shop.get("/bench")["lots"]}
    crew = {person["name"]: person["id"] for person in shop.get("/bench")["crew"]}
    kept = keep(shop, left_upper, masses=(300, 102), lot_id=lots["T-4471"])
    assert kept["verdict"] == "out"
    path, right = f"/batches/{kept['id']}/correction", shop.part("Right wing, upper skin")
    fast = product(shop, FAST)["id"]
    what = {"sheet_id": fast, "part_id": right, "step_key": "skin-1/layup", "crew_member_id": crew["Bo"]}
    assert "the note is empty" in shop.refused("POST", path, {"id": "c", "note": " ", **what})["detail"]
    was_that = {"id": "c", "note": "", "lot_id": lots["T-4471"], **what}
    assert "is not of" in shop.refused("POST", path, {**was_that, "note": "the wrong can"})["detail"]
    mended = shop.ask("POST", path, {"id": "c", "note": "it was the other can", **what}, 201)
    assert (mended["verdict"], mended["product"], mended["who"], mended["lot"]) == ("in", FAST, "Bo", "")
    assert (mended["part"], mended["letter"], mended["total_g"]) == ("Right wing, upper skin", kept["letter"], 402)
    assert shop.get(f"/parts/{left_upper}/mix")["needs"][0]["left_g"] == pytest.approx(3010.8, abs=1)
    assert shop.get(f"/parts/{right}/mix")["needs"][0]["left_g"] == pytest.approx(3010.8 - 402, abs=1)


def news(shop, kind):
    from kiteloom.workshop.plan.alerts import raise_alerts

    raise_alerts(shop.store, shop.clock.at)
    return [alert["words"] for alert in shop.get("/weather")["alerts"] if alert["kind"] == kind]


def test_a_mix_that_will_not_harden_and_a_bad_lot_are_heard_of_and_stand_on_the_part(shop):
    left = shop.part("Left wing, lower skin")
    batch = next(b for b in shop.get(f"/parts/{left}/mix")["batches"] if b["step_key"] == "core/bed")
    wrong = {"id": "c", "note": "read the other scale", "hardener": grams(30)}
    shop.ask("POST", f"/batches/{batch['id']}/correction", wrong, 201)
    assert "Left wing, lower skin: a mix of Tarn 210 with 214 slow on it is " in news(shop, "mix")[0]
    assert "% under its ratio. It holds the part up." in news(shop, "mix")[0]
    assert any("% under its ratio" in words for words in shop.get(f"/parts/{left}")["care"])
    shop.release(left, "core/bed")
    assert news(shop, "mix") == []
    lot = next(lot["id"] for lot in shop.get("/bench")["lots"] if lot["name"].startswith("T-4471"))
    shop.ask("POST", f"/lots/{lot}/notes", {"id": "bad", "kind": "bad", "note": "hardener crystallised"}, 201)
    assert (
        "Lot T-4471 of Tarn 210 with 214 slow was found bad (hardener crystallised): it is on Left"
        in (news(shop, "lot")[0])
    )
    assert any("was found bad: hardener crystallised" in words for words in shop.get(f"/parts/{left}")["care"])
    why = keep(shop, shop.part("Left wing, upper skin"), lot_id=lot, status=422)["detail"]
    assert "Say why it is used all the same" in why
    assert [row["state"] for row in shop.get("/bench")["lots"] if row["id"] == lot] == ["bad"]
    shop.ask("POST", f"/lots/{lot}/notes", {"id": "ok", "kind": "cleared", "note": "warmed, clear again"}, 201)
    assert news(shop, "lot") == []

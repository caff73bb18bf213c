"""How far ahead it is bought, what stops without it, half a tube, what was paid, another product of one use, places."""

from datetime import timedelta

import pytest
from tests.workshop.test_buying import SKIN, TARN, item, offer, order, ordered, plain, seller, takes, told, ware

from kiteloom.core.base.calendar import minute_of
from kiteloom.views.stores.needs import wares_ahead
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.log.sold import paid_prices
from kiteloom.workshop.plan.plan import shop_plan


def lines(shop, name):
    view = shop.get("/order-list")
    every = [*(line for group in view["today"] for line in group["lines"]), *view["later"]]
    return [line for line in every if line["name"] == name]


def say_buying(shop, days, status=200):
    body = {"version": shop.get("/shop")["version"], "currency": "EUR", "margin_days": 2, "ahead_days": days}
    return shop.ask("PATCH", "/buying", body, status)


def test_what_is_wanted_later_than_the_shop_buys_ahead_is_ordered_later(whole):
    def packs(row):
        return sum(one["count"] for one in row["packs"])

    say_buying(whole, 1000)
    (at_once,) = lines(whole, "Tarn 210 with 214 slow")
    say_buying(whole, 14)
    several = lines(whole, "Tarn 210 with 214 slow")
    assert len(several) > 1
    assert [row["order_by"] for row in several] == sorted(row["order_by"] for row in several)
    assert len({row["packs"][0]["order_id"] for row in several}) == len(several)

    def grams(row):
        number, unit = row["short"].split()
        return float(number) * (1000 if unit == "kg" else 1)

    # What is left over of one time is used at the next: together no more than at once.
    assert sum(grams(row) for row in several) <= grams(at_once) + 20
    refused = say_buying(whole, 0, 422)["detail"]
    assert "what is bought at once is 0 days; it can't be below 1 day" in refused
    assert whole.get("/order-list")["ahead_days"] == 14
    say_buying(whole, 90)


def test_what_does_not_keep_until_it_is_wanted_is_not_bought_with_the_rest(shop):
    seller(shop)
    offer(shop, "kit", f"sheet:{TARN}:both", "6.4 kg", 118, 3, unit="g")
    sheet = shop.get(f"/shelf/{TARN}")
    texts = {field["key"]: field["text"] for field in sheet["fields"]}
    typed = {"version": sheet["version"], "kind": sheet["kind"], "name": sheet["name"], "id": TARN,
             "texts": {**texts, "keep.sealed_days": "3 days"}, "temps": sheet["stages"]["temps"],
             "stages": sheet["stages"]["rows"]}  # fmt: skip
    before = len(lines(shop, sheet["name"]))
    shop.ask("PATCH", f"/shelf/{TARN}", typed)
    with shop.store.reading() as uow:
        plan = shop_plan(uow, minute_of(shop.clock.at))
        (one,) = [row for row in wares_ahead(uow, plan) if row.ware.key == f"sheet:{TARN}:both"]
    lacking = sorted({lack.by for lack in one.lacks if lack.short > 0})
    assert (lacking[-1] - lacking[0]).days > 5
    assert before == 1
    assert len(lines(shop, sheet["name"])) > 1


def test_what_stops_without_it_is_all_that_stands_behind(shop):
    item(shop, "bush")
    takes(shop, "bush", SKIN, "skin-1/layup", 2)
    rows = shop.get(f"/parts/{shop.part(SKIN)}/times")["steps"]
    after = [row["key"] for row in rows].index("skin-1/layup")
    words = ware(shop, "item:bush:both")["stops"]
    assert words.startswith("1 step stops without it, ")
    # The rest of its part stands behind, and what joins it.
    assert int(words.split(", ")[1].split()[0]) >= len(rows) - after - 1
    (line,) = [row for row in shop.get("/order-list")["unsold"] if row["name"] == "Bush"]
    assert line["stops"] == words


def test_half_a_tube_is_questioned_and_no_more_than_half_is_on_the_shelf(shop):
    seller(shop)
    offer(shop, "kit", f"sheet:{TARN}:both", "1.28 kg", 31, 9, unit="g")
    ordered(shop, "line", "kit", 1)
    each = {"text": "640 g", "unit": "g"}
    look = shop.ask("POST", "/orders/line/look", {"id": "x", "kind": "received", "packs": 1, "each": each})["odd"]
    assert look[0] == "Each holds 640 g, and 1.28 kg was ordered: 50 % of it."
    assert "too little." in look[1]
    assert "The rest stays awaited" not in look[1]
    told(shop, "line", "r", packs=1, lot_number="T-1", each=each, sure=True)
    assert next(lot for lot in shop.get(f"/shelf/{TARN}")["lots"] if lot["lot_number"] == "T-1")["left"] == 640
    near = {"id": "y", "kind": "received", "packs": 1, "each": {"text": "1.27 kg", "unit": "g"}}
    ordered(shop, "line2", "kit", 1)
    assert shop.ask("POST", "/orders/line2/look", near)["odd"] == []  # a pair of scales
    item(shop, "bolt", thread="M5")
    takes(shop, "bolt", SKIN, "skin-1/layup", 8)
    offer(shop, "ten", "item:bolt:both", 10, 6.4, 5)
    ordered(shop, "bag", "ten", 1)
    few = {"packs": 1, "each": plain(7)}
    look = shop.ask("POST", "/orders/bag/look", {"id": "x", "kind": "received", **few})["odd"]
    assert look == ["Each holds 7, and 10 was ordered: 70 % of it.",
                    "The steps ahead take 8 and there is 7: 1 too little."]  # fmt: skip
    told(shop, "bag", "s", sure=True, **few)
    assert (shop.get("/items")["items"][0]["left"], order(shop, "bag")["state"]) == ("7", "received")
    assert ware(shop, "item:bolt:both")["short"] == "1"  # its need is open again


def test_two_products_of_one_use_are_offered_against_each_other(shop):
    seller(shop)
    peel = next(row for row in shop.get("/needs")["wares"] if row["name"] == "Moth peel ply")
    texts = {"used_as": "peel ply", "roll_width_m": "0.75 m"}
    shop.ask("POST", "/shelf", {"id": "narrow", "kind": "consumable", "name": "Narrow peel", "texts": texts}, 201)
    gone = {"id": "gone", "kind": "counted", "amount": {"text": "0", "unit": "m"}}
    shop.ask("POST", f"/lots/{lot_of(shop, peel['ware'])}/notes", gone, 201)
    offer(shop, "wide", peel["ware"], 100, 300, 5, unit="m")
    (line,) = lines(shop, "Moth peel ply")
    assert line["packs"][0]["words"] == "wide"
    # As much cloth in rolls of half the width for a third of the money.
    offer(shop, "slim", "sheet:narrow:both", 200, 100, 5, unit="m")
    (line,) = lines(shop, "Moth peel ply")
    assert line["packs"][0]["words"] == "slim of Narrow peel"


def lot_of(shop, key):
    return shop.get(f"/shelf/{key.split(':')[1]}")["lots"][0]["id"]


def test_what_was_used_costs_what_was_paid_for_it(shop):
    seller(shop)
    item(shop, "bush")
    takes(shop, "bush", SKIN, "skin-1/layup", 2)
    offer(shop, "pair", "item:bush:both", 2, 8, 0)
    ordered(shop, "line", "pair", 1)
    told(shop, "line", "came", packs=1)
    body = {"id": "pair", "version": 1, "supplier_id": "quay", "ware": "item:bush:both", "words": "pair",
            "amount": plain(2), "price": plain(20), "lead_days": 0}  # fmt: skip
    shop.ask("POST", "/offers", body)  # dearer today
    before = next(row for row in shop.get("/costs")["parts"] if row["name"] == SKIN)
    for n, kind in enumerate(("start", "finish")):
        work = {"id": f"w{n}", "part_id": shop.part(SKIN), "step_key": "skin-1/layup", "kind": kind, "crew": []}
        shop.ask("POST", "/work", work, 201)
        shop.clock.at += timedelta(minutes=30)
    after = next(row for row in shop.get("/costs")["parts"] if row["name"] == SKIN)
    assert after["so_far"] - before["so_far"] == pytest.approx(8)
    assert before["ahead"] - after["ahead"] == pytest.approx(20)


def test_what_was_paid_is_the_mean_of_the_lots_by_what_was_used_of_them(whole):
    with whole.store.reading() as uow:
        paid = {ware.id: price for ware, price in paid_prices(uow, "EUR").items()}
        assert paid_prices(uow, "SEK") == {}
    # One roll of 50 m² at 163 g/m² for 198 EUR came by an order, and nothing else did.
    assert paid[stable_id("sheet", "Sedge 163 twill glass")] == pytest.approx(198 / (50 * 163))


def test_an_item_has_its_place_and_two_who_change_a_use_see_each_other(shop):
    item(shop, "bush")
    row = shop.get("/items")["items"][0]
    body = {"id": "bush", "version": row["version"], "name": "Bush", "place": "  blue cabinet,   drawer 2 "}
    shop.ask("POST", "/items", body)
    assert shop.get("/items")["items"][0]["place"] == "blue cabinet, drawer 2"
    long = {**body, "version": row["version"] + 1, "place": "x" * 200}
    assert "the place has 200 letters; it has at most 120" in shop.ask("POST", "/items", long, 422)["detail"]
    takes(shop, "bush", SKIN, "skin-1/layup", 2)
    use = shop.get("/items")["items"][0]["uses"][0]
    changed = {"id": use["id"], "item_id": "bush", "part_id": use["part_id"], "step_key": use["step_key"]}
    shop.ask("POST", "/items/uses", {**changed, "count": 3, "version": use["version"]})
    shop.ask("POST", "/items/uses", {**changed, "count": 5, "version": use["version"]}, 409)
    assert shop.get("/items")["items"][0]["uses"][0]["count"] == 3


def test_sheets_over_ribs_say_hours_and_money_where_they_are_known(shop):
    def long(text, unit="m"):
        return {"text": text, "unit": unit}

    asked = {"span": long("2.4"), "sheet": long("1.2"), "pitches": [long("0.3"), long("0.4")]}
    more = {"rib_min": long("45", "min"), "joint_min": long("1 h", "min"), "price": plain(36)}
    (row, wide) = shop.ask("POST", "/costs/pitches", {**asked, **more})["rows"]
    assert (row["hours"], row["cost"], wide["hours"]) == ("7.8 h", "72.00 EUR", "6.2 h")  # 9 ribs, 7 ribs, one joint
    (row, _) = shop.ask("POST", "/costs/pitches", asked)["rows"]
    assert (row["hours"], row["cost"]) == ("", "")
    refused = shop.ask("POST", "/costs/pitches", {**asked, "rib_min": long("-3", "min")}, 422)
    assert "rib min" in refused["detail"]


def test_two_products_are_compared_in_hours_where_somebody_knows_them(whole):
    ware_of = {row["name"]: row["id"] for row in whole.get("/costs")["wares"]}
    asked = {"ware": ware_of["Sedge 163 twill glass"], "other_sheet_id": stable_id("sheet", "Sedge 280 twill glass")}
    minutes = {"takes_min": {"text": "12", "unit": "min"}, "other_min": {"text": "9", "unit": "min"}}
    found = whole.ask("POST", "/costs/compare", {**asked, **minutes})
    first, other = (float(way["hours"].split()[0]) for way in found["ways"])
    assert other / first == pytest.approx(0.75, abs=0.01)  # of the same area
    assert "less by hand" in found["says"][1]
    assert {way["hours"] for way in whole.ask("POST", "/costs/compare", asked)["ways"]} == {""}
    # Each square foot of it takes as much less as it is smaller.
    whole.ask("PATCH", "/shop", {"version": whole.get("/shop")["version"], "units": "us"})
    ways = whole.ask("POST", "/costs/compare", {**asked, **minutes})["ways"]
    assert float(ways[0]["hours"].split()[0]) == pytest.approx(first * 10.764, rel=0.01)
    whole.ask("PATCH", "/shop", {"version": whole.get("/shop")["version"], "units": "metric"})

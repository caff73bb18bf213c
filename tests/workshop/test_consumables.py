"""What is used up besides resin and cloth: counted in metres and pieces, used by finished steps, missed before one."""

from datetime import timedelta

import pytest

from kiteloom.workshop.base.ids import stable_id

PEEL, TAPE, GLOVES = "Moth peel ply", "Moth sealant tape", "Moth gloves"


def on_shelf(shop, name):
    groups = shop.get("/shelf")["groups"]
    key = next(row["id"] for group in groups for row in group["products"] if row["name"] == name)
    return shop.get(f"/shelf/{key}")


def left(shop, name):
    return sum(lot["left"] for lot in on_shelf(shop, name)["lots"])


def count(shop, name, text, unit, key="count"):
    """So much is left of its oldest lot."""
    lot = min(on_shelf(shop, name)["lots"], key=lambda lot: lot["received_on"])["id"]
    body = {"id": key, "kind": "counted", "amount": {"text": text, "unit": unit}}
    signed = {"crew_member_id": stable_id("crew", "Bo"), "note": "an older roll was not written down"}
    shop.ask("POST", f"/lots/{lot}/notes", body | signed, 201)


def words(shop, part):
    today = shop.get("/today")
    return " ".join([row["words"] for row in [*today["fits"], *today["later"]] if row["part"] == part])


def used(shop, part, step, label):
    rows = shop.get(f"/parts/{shop.part(part)}/mix")["supplies"]
    figure = next(row for row in rows if row["label"] == label)
    return next(given["value"] for given in figure["given"] if given["name"] == step)


def finish(shop, part, step, key):
    body = {"id": key, "part_id": shop.part(part), "step_key": step, "crew": [], "kind": "finish"}
    shop.ask("POST", "/work", body, 201)


def test_too_little_of_a_consumable_is_said_before_its_step_in_metres_and_in_pieces(shop):
    wing = "Left wing, upper skin"
    assert "peel ply" not in words(shop, wing)
    finish(shop, wing, "prepare", "p")
    shop.clock.at += timedelta(minutes=1)
    count(shop, PEEL, "90", "cm")
    count(shop, GLOVES, "2", "", "g")
    said = words(shop, wing)
    takes = used(shop, wing, "Lay and bag the outer skin", "peel ply")
    roll_m = float(next(f["text"] for f in on_shelf(shop, PEEL)["fields"] if f["key"] == "roll_width_m").split()[0])
    assert f"Only 0.9 m of peel ply is left, and it takes {takes / roll_m:.1f} m." in said
    assert "Only 2 gloves, pairs are left, and it takes " in said
    count(shop, PEEL, "30 m", "m", "more")
    assert "peel ply" not in words(shop, wing)


def test_what_a_finished_step_used_is_gone_from_the_lots_that_were_there_and_a_count_begins_anew(shop):
    part, step = "Left wing, upper skin", "skin-1/layup"
    shop.clock.at += timedelta(minutes=1)
    count(shop, TAPE, "20", "m")
    before = left(shop, TAPE)
    assert before == pytest.approx(20)
    finish(shop, part, "prepare", "p")
    shop.clock.at += timedelta(hours=3)
    finish(shop, part, step, "l")
    gone = used(shop, part, "Lay and bag the outer skin", "sealant tape")
    assert left(shop, TAPE) == pytest.approx(20 - gone)
    # A roll that comes tomorrow has nothing to do with what was used today; by then the first is overdrawn.
    sheet = on_shelf(shop, TAPE)["id"]
    more = {"id": "r", "sheet_id": sheet, "lot_number": "MT-15", "received_on": "2026-05-14"}
    shop.ask("POST", "/lots", {**more, "amount": {"text": "15 m", "unit": "m"}}, 201)
    assert left(shop, TAPE) == pytest.approx(35 - gone)
    shop.clock.at += timedelta(hours=1)
    count(shop, TAPE, "3", "m", "again")
    assert {lot["lot_number"]: lot["left"] for lot in on_shelf(shop, TAPE)["lots"]} == {"MT-14": 3, "MT-15": 15}
    assert "MT-14, 3.0 m left" in " ".join(lot["words"] for lot in on_shelf(shop, TAPE)["lots"])


@pytest.mark.parametrize(
    ("name", "text", "unit", "says"),
    [
        (PEEL, "3 kg", "m", "“kg” is not a unit of length"),
        (TAPE, "-2", "m", "-2"),
        (GLOVES, "a few", "", "“a few”"),
        (PEEL, "12000", "m", "can't be above 10000 m"),
    ],
)
def test_a_count_in_another_measure_is_refused_by_name(shop, name, text, unit, says):
    lot = on_shelf(shop, name)["lots"][0]["id"]
    body = {"id": "c", "kind": "counted", "amount": {"text": text, "unit": unit}}
    assert says in shop.refused("POST", f"/lots/{lot}/notes", body)["detail"]


def test_a_us_shop_counts_in_feet_and_what_nobody_counts_is_not_missed(shop):
    shop.ask("PATCH", "/shop", {"version": shop.get("/shop")["version"], "units": "us"})
    shop.clock.at += timedelta(minutes=1)
    finish(shop, "Left wing, upper skin", "prepare", "p")
    count(shop, PEEL, "3 ft", "ft")
    assert "Only 3.0 ft of peel ply is left, and it takes " in words(shop, "Left wing, upper skin")
    assert "breather" not in words(shop, "Left wing, upper skin")
    assert on_shelf(shop, PEEL)["measure"] == "run"
    assert on_shelf(shop, "Kelp cleaner")["measure"] == "mass"

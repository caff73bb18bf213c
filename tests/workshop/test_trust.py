"""What is advised can be trusted: bad mixes, mixes elsewhere, cold mornings, early readings, work that is too long."""

from __future__ import annotations

from datetime import timedelta

import pytest
from tests.conftest import key_of
from tests.workshop.test_bench import FAST, SLOW, grams, keep, product

LAYUP = "skin-1/layup"


def card(shop, part, step=LAYUP):
    cards = shop.get("/cures")["cards"]
    return next((c for c in cards if (c["part_id"], c["step_key"]) == (part, step) and c["state"] != "planned"), None)


def on_it(shop, part, step=LAYUP):
    need = next(n for n in shop.get(f"/parts/{part}/mix")["needs"] if n["step_key"] == step)
    figures = {figure["key"].split(":")[1]: figure["value"] for figure in need["figures"]}
    return figures["mixed"], figures["left"], figures["need"]


def read(shop, part, status=201, step=LAYUP, **more):
    body = {"id": key_of(part, step, str(shop.clock.at), str(more)), "part_id": part, "step_key": step, "passes": True}
    return shop.ask("POST", "/witness", {**body, "how": "thumbnail", **more}, status)


def sign(shop, part, step=LAYUP, **more):
    who = shop.get("/bench")["crew"][0]["id"]
    return read(shop, part, step=step, how="decision", crew_member_id=who, note="the designer says it may stay", **more)


def note(shop, batch, kind, status=201, **more):
    body = {"id": key_of(batch, kind, str(more)), "kind": kind, **more}
    return shop.ask("POST", f"/batches/{batch}/notes", body, status)


def times(shop, part, key):
    return next(s for s in shop.get(f"/parts/{part}/times")["steps"] if s["key"] == key)


def test_a_mix_far_out_of_its_ratio_is_released_by_no_reading_and_no_clock_is_promised_for_it(shop, left_upper):
    batch = keep(shop, left_upper, masses=(800, 448), used=True)
    assert batch["verdict"] == "out"
    mixed, left, need = on_it(shop, left_upper)
    assert (mixed, left) == (0, need)
    shop.clock.at += timedelta(days=4)
    shown = card(shop, left_upper)
    assert (shown["knots"], shown["release"]["rows"][0]["state"]) == ([], "spoilt")
    assert "100 % over its ratio" in shown["release"]["sentence"]
    assert "no hour of its sheet holds" in shown["sentence"]
    why = next(row for row in shop.get("/today")["held"] if row["name"] == "Open the bag, inspect the outer skin")
    assert "no clock of its sheet holds for it; somebody must decide and sign" in why["words"]
    for how, more in (("thumbnail", {}), ("hardness", {"value": "82"})):
        refused = read(shop, left_upper, 422, how=how, batch_id=batch["id"], **more)
        assert "100 % over its ratio" in refused["detail"]
    read(shop, left_upper, how="tap", batch_id=batch["id"])
    assert card(shop, left_upper)["release"]["released"] is False
    assert (
        "is not released"
        in shop.ask(
            "POST", "/work", {"id": "p", "part_id": left_upper, "step_key": "skin-1/peel", "kind": "start"}, 422
        )["detail"]
    )
    assert sign(shop, left_upper)["sentence"] == "Released by a decision that somebody signed, not by a reading."
    assert on_it(shop, left_upper)[0] == pytest.approx(1248)
    peel = times(shop, left_upper, "skin-1/peel")
    assert peel["start"] >= shop.clock.at.isoformat()[:16]


def test_a_good_mix_marked_bad_afterwards_waits_for_a_decision_taken_since(shop, left_upper):
    batch = keep(shop, left_upper, masses=(500, 140))["id"]
    shop.clock.at += timedelta(days=2)
    assert sign(shop, left_upper)["released"] is True
    note(shop, batch, "bad", note="the hardener had crystals in it")
    assert card(shop, left_upper)["release"]["released"] is False  # it was decided before that was known
    shop.clock.at += timedelta(minutes=5)
    note(shop, batch, "cleared", note="it was another tin")
    assert card(shop, left_upper)["release"]["released"] is True


def test_thrown_away_it_is_on_no_part_and_cures_nowhere(shop, left_upper):
    batch = keep(shop, left_upper, masses=(500, 140))["id"]
    assert "note is empty" in note(shop, batch, "thrown", 422)["detail"]
    note(shop, batch, "thrown", note="poured the wrong tin")
    assert card(shop, left_upper) is None
    mixed, left, need = on_it(shop, left_upper)
    assert (mixed, left) == (0, need)
    fixed = {"id": "c", "resin": grams(520), "hardener": grams(145.6), "note": "misread"}
    shop.ask("POST", f"/batches/{batch}/correction", fixed, 201)
    assert on_it(shop, left_upper)[0] == 0  # all of it stays all of it
    assert "no mix is on this step" in read(shop, left_upper, 422)["detail"]


def test_what_went_on_another_part_counts_there_with_its_cure_its_witness_and_its_grams(shop, left_upper):
    other = shop.part("Right wing, upper skin")
    batch = keep(shop, left_upper, masses=(400, 112))["id"]
    assert "how much of it went there" in note(shop, batch, "on", 422, part_id=other, step_key=LAYUP)["detail"]
    note(shop, batch, "on", part_id=other, step_key=LAYUP, grams=grams(300))
    note(shop, batch, "emptied", grams=grams(12))
    assert [on_it(shop, part)[0] for part in (left_upper, other)] == pytest.approx([200, 300])
    assert "300 g of Tarn 210 with 214 slow" in card(shop, other)["release"]["rows"][0]["words"]
    assert "200 g of Tarn 210 with 214 slow" in card(shop, left_upper)["release"]["rows"][0]["words"]
    assert times(shop, other, LAYUP)["state"] == "done"
    shop.clock.at += timedelta(days=2)
    assert read(shop, other, batch_id=batch)["released"] is True
    assert card(shop, left_upper)["release"]["released"] is False


def test_hard_long_before_its_time_is_asked_about_and_kept_when_it_is_meant(shop, left_upper):
    batch = keep(shop, left_upper, masses=(500, 140))["id"]
    shop.clock.at += timedelta(hours=2)
    doubted = read(shop, left_upper, 422, batch_id=batch)
    assert doubted["errors"][0]["field"] == "early"
    assert "A leftover that got hot is hard long before the part" in doubted["detail"]
    assert read(shop, left_upper, batch_id=batch, passes=False)["released"] is False  # soft it may be at any hour
    assert read(shop, left_upper, batch_id=batch, early=True)["released"] is True


def test_hardness_goes_by_the_sheets_own_limit(shop, left_upper):
    batch = keep(shop, left_upper, masses=(500, 140))["id"]
    shop.clock.at += timedelta(days=3)
    assert read(shop, left_upper, batch_id=batch, how="hardness", value="3")["released"] is False
    assert "not hard enough (its sheet asks for 75)" in card(shop, left_upper)["release"]["rows"][0]["found"]
    assert read(shop, left_upper, batch_id=batch, how="hardness", value="76", passes=False)["released"] is True


def cold(shop, low="1", high="6"):
    typed = {"low": {"text": low, "unit": "°C"}, "high": {"text": high, "unit": "°C"}}
    shop.ask("POST", "/climate/outlooks", {"id": key_of(low, high, str(shop.clock.at)), **typed}, 201)


def test_on_a_cold_morning_nothing_wet_is_offered_and_the_bench_speaks_before_the_first_gram(empty_shop):
    from kiteloom.demo import reedling

    shop = empty_shop
    with shop.store.writing() as uow:
        reedling.found_shop(uow, shop.clock.at)
    cold(shop)
    today = shop.get("/today")
    assert today["fits"] == []
    wet = ("layup", "bed", "coat", "glue", "bond", "spread")
    assert not any(word in action["step_key"] for action in today["actions"] for word in wet)
    held = [row["words"] for row in today["held"]]
    assert any("it needs 12.0 °C until" in words and "heat it" in words for words in held)
    left = shop.part("Left wing, upper skin")
    tarn = product(shop, SLOW)["id"]
    limits = shop.ask("POST", "/bench/limits", {"sheet_id": tarn, "part_id": left, "step_key": LAYUP})
    assert "stands still below 12.0 °C" in limits["against"][0]
    split = {"sheet_id": tarn, "amount": grams(1800), "spread": grams(30)}
    assert "stands still below 12.0 °C" in shop.ask("POST", "/bench/cups", split, 422)["detail"]
    cold(shop, "19", "22")
    assert shop.ask("POST", "/bench/limits", {"sheet_id": tarn, "part_id": left, "step_key": LAYUP})["against"] == []
    words = shop.ask("POST", "/bench/cups", split)["sentence"]
    assert "Left standing it would come to between" in words


def test_a_layup_longer_than_its_first_mix_flows_says_so_before_it_starts_and_what_would_help(shop, left_upper):
    assert times(shop, left_upper, LAYUP)["open_time"] == ""  # the slow one gels long after the bag is on
    asked = {"part_id": left_upper, "step_key": LAYUP}
    said = {
        name: shop.ask("POST", "/bench/limits", {"sheet_id": product(shop, name)["id"], **asked})
        for name in (SLOW, FAST)
    }
    assert said[SLOW]["against"] == []
    assert "that comes to “gel”" in said[FAST]["against"][0]  # the other tin, on the bench
    fast = {"job": "", "version": shop.version(left_upper), "products": {"resin": product(shop, FAST)["id"]}}
    shop.ask("PATCH", f"/parts/{left_upper}/job", fast)
    words = times(shop, left_upper, LAYUP)["open_time"]
    assert "that comes to “gel”" in words
    assert "a smaller stretch at a time or a slower hardener" in words
    step = shop.get(f"/loom/step?part_id={left_upper}&step_key={LAYUP}")
    assert step["open_time"] == words


def test_the_pace_of_a_step_is_that_of_its_own_crew(shop, left_upper):
    need = next(n for n in shop.get(f"/parts/{left_upper}/mix")["needs"] if n["step_key"] == LAYUP)
    grams_a_minute = float(need["spread"].split()[0])
    assert 10 < grams_a_minute < 40  # not the forty that two people brush on

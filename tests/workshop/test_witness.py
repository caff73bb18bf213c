"""A prediction never releases a part: readings on its witnesses do, or somebody signs."""

from __future__ import annotations

from datetime import timedelta
from uuid import uuid4

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kiteloom.core.cure.witness import MixOn, WitnessReading, release

LAYUP = "skin-1/layup"


@pytest.fixture
def right(shop):
    return shop.part("Right wing, lower skin")


def card(shop, part):
    return next(c for c in shop.get("/cures")["cards"] if (c["part_id"], c["step_key"]) == (part, LAYUP))


def read(shop, part, batch, passes=True, how="thumbnail", status=201, **more):
    body = {"id": str(uuid4()), "part_id": part, "step_key": LAYUP, "how": how, "passes": passes}
    body["batch_id"] = batch
    return shop.ask("POST", "/witness", {**body, **more}, status)


def start(shop, part, status=201):
    order = {"id": str(uuid4()), "part_id": part, "step_key": "skin-1/peel", "kind": "start"}
    return shop.ask("POST", "/work", order, status)


def test_a_part_waits_for_every_witness_however_long_the_clock_has_run(shop, right):
    shop.clock.at += timedelta(days=20)
    first = shop.get("/today")["actions"][0]
    assert (first["kind"], first["label"], first["step_key"]) == ("check", "Read the witness first", "coat-1/brush")
    assert "waits for a reading: “Lay and bag the outer skin” is not released" in start(shop, right, 422)["detail"]
    rows = card(shop, right)["release"]["rows"]
    assert [row["state"] for row in rows] == ["unread"] * 3
    for row in rows[:2]:
        found = read(shop, right, row["batch_id"])
        assert found["released"] is False
    assert found["sentence"].startswith("Not released yet: read 1 of 3 witnesses first.")
    start(shop, right, 422)
    assert read(shop, right, rows[2]["batch_id"], how="hardness", value="78")["released"] is True
    assert (
        "hardness 78 Shore D, hard enough (its sheet asks for 75) (Wed 3 Jun 09:20)"
        in card(shop, right)["release"]["rows"][2]["found"]
    )
    start(shop, right)


def test_what_is_found_soft_holds_the_plan_and_is_read_again(shop, right):
    batch = card(shop, right)["release"]["rows"][0]["batch_id"]
    shop.release(right)
    shop.clock.at += timedelta(hours=1)
    soft = read(shop, right, batch, passes=False)
    assert soft["sentence"] == "Not released: 1 of 3 found soft. Let it cure on, and read again."
    peel = next(s for s in shop.get(f"/parts/{right}/times")["steps"] if s["key"] == "skin-1/peel")
    assert peel["start"][11:16] == "12:20"  # two hours after it was found soft
    start(shop, right, 422)
    shop.clock.at += timedelta(hours=2)
    assert read(shop, right, batch, how="tap")["released"] is False  # ringing finds voids, and says nothing of the cure
    assert read(shop, right, batch)["released"] is True
    start(shop, right)


def test_a_reading_written_down_wrong_is_corrected_by_one_that_names_it(shop, right):
    rows = card(shop, right)["release"]["rows"]
    wrong = {"id": "wrong", "part_id": right, "step_key": LAYUP, "how": "thumbnail", "passes": True}
    shop.ask("POST", "/witness", {**wrong, "batch_id": rows[0]["batch_id"]}, 201)
    assert card(shop, right)["release"]["rows"][0]["state"] == "hard"
    read(shop, right, rows[0]["batch_id"], passes=False, corrects_id="wrong")
    assert card(shop, right)["release"]["rows"][0]["state"] == "soft"
    assert "corrected already" in read(shop, right, rows[0]["batch_id"], corrects_id="wrong", status=422)["detail"]


@pytest.mark.parametrize(
    ("more", "named"),
    [
        ({"how": "sniff"}, "“sniff” is not a way"),
        ({"how": "hardness"}, "no hardness was typed"),
        ({"how": "hardness", "value": "140"}, "the hardness is 140; it can't be above 100"),
        ({"how": "decision"}, "a decision is signed"),
        ({"batch_id": None}, "3 batches are on this step"),
        ({"step_key": "core/bed"}, "no mix is on this step"),
        ({"happened_at": "2026-05-10T10:00"}, "from before the batch was mixed"),
        ({"happened_at": "2026-05-20T10:00"}, "lies in the future"),
    ],
)
def test_a_reading_that_says_nothing_is_refused(shop, right, more, named):
    batch = card(shop, right)["release"]["rows"][0]["batch_id"]
    good = {"id": "r", "part_id": right, "step_key": LAYUP, "how": "tap", "passes": True, "batch_id": batch}
    assert named in shop.refused("POST", "/witness", {**good, **more})["detail"]


@pytest.mark.parametrize("slow_first", [True, False])
def test_a_part_with_two_products_waits_for_the_slower(shop, left_upper, slow_first):
    def keep(name, minute):
        sheet = next(p for p in shop.get("/bench")["products"] if p["name"] == name)
        body = {"id": name, "part_id": left_upper, "step_key": LAYUP, "sheet_id": sheet["id"], "wanted_g": 100}
        body |= {"resin_lid": sheet["resin_lid"], "hardener_lid": sheet["hardener_lid"]}
        parts = (100, 28) if "slow" in name else (100, 34)
        body |= {"resin": {"text": str(parts[0]), "unit": "g"}, "hardener": {"text": str(parts[1]), "unit": "g"}}
        shop.clock.at += timedelta(minutes=minute)
        shop.ask("POST", "/batches", body, 201)

    names = ["Tarn 210 with 214 slow", "Tarn 210 with 212 fast"]
    for name in names if slow_first else names[::-1]:
        keep(name, 20)
    step = next(s for s in shop.get(f"/parts/{left_upper}/times")["steps"] if s["key"] == LAYUP)
    peel = next(knot for knot in step["knots"] if knot["name"] == "peel")
    hours = next(g["value"] for g in peel["figure"]["given"] if g["name"].startswith("hours to peel")) / 60
    assert hours == 10  # the slow one's, not the fast one's five


READINGS = st.lists(
    st.builds(
        WitnessReading,
        st.integers(0, 100),
        st.sampled_from(["thumbnail", "tap", "decision"]),
        st.booleans(),
        st.sampled_from(["", "a", "b"]),
    ),
    max_size=6,
)


@given(READINGS)
def test_released_means_the_last_reading_of_every_batch_passes(readings):
    found = release([MixOn("a", 10), MixOn("b", 20), MixOn("c", 20, spoilt=40)], readings)
    for key, mixed in (("a", 10), ("b", 20)):
        mine = [r for r in readings if r.at >= mixed and r.batch in ("", key) and r.how != "tap"]
        assert (key in found.unread) == (not mine)
    signed = [r for r in readings if r.how == "decision" and r.passes and r.at > 40 and r.batch in ("", "c")]
    assert found.spoilt == ("c",) or signed  # never by a reading, nor by what was decided before it was known
    assert found.released == (not found.unread and not found.soft and not found.spoilt)
    if not readings:
        assert not found.released

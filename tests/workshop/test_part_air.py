"""A part's own temperature: where it was moved, what was read on it, and what that does to its cure."""

from __future__ import annotations

from datetime import datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kiteloom.core.air.moisture import Air
from kiteloom.core.air.part import as_read, moved
from kiteloom.core.air.profile import Profile
from kiteloom.workshop.plan.watch import Instruments, Watch

LEFT = "Left wing, lower skin"


@pytest.fixture
def left(shop):
    return shop.part(LEFT)


def bed(shop, part):
    """The core's bedding: curing, or reached."""
    return next(c for c in shop.get("/cures")["cards"] if (c["part_id"], c["step_key"]) == (part, "core/bed"))


def at(card, stage):
    return datetime.fromisoformat(next(k["at"] for k in card["knots"] if k["name"] == stage))


def move(shop, part, zone, status=201, **more):
    return shop.ask("POST", f"/parts/{part}/place", {"id": f"to {zone}", "zone_id": zone, **more}, status)


def test_in_the_warm_cupboard_it_cures_sooner_in_the_cool_room_later(shop, left):
    before = bed(shop, left)
    assert before["place"]["words"] == "In the main shop; taken to be as warm as its air."
    asked = move(shop, left, "warm cupboard", 422)
    assert asked["errors"][0]["field"] == "sure"
    assert "Left wing, lower skin is 7.200 m long, and the warm cupboard takes parts up to 1.200 m" in asked["detail"]
    assert move(shop, left, "warm cupboard", sure=True)["zone_id"] == "warm cupboard"
    warm = bed(shop, left)
    assert at(warm, "sand") < at(before, "sand") - timedelta(hours=2)
    assert "of the warm cupboard" in warm["knots"][2]["figure"]["given"][-3]["value"]
    shop.clock.at += timedelta(minutes=30)
    move(shop, left, "cool room")
    assert at(bed(shop, left), "sand") > at(before, "sand")
    other = shop.get("/cures")["cards"]
    assert all(c["place"]["zone_id"] == "main shop" for c in other if c["part_id"] != left)


def test_a_part_that_is_only_lent_to_the_cupboard_is_planned_in_the_shop_from_its_way_back_on(shop, left):
    place = move(shop, left, "warm cupboard", sure=True, back="2026-05-14T12:00")
    assert place["words"].startswith("In the warm cupboard until 12:00, then in the main shop")
    ribbon = {p["at"][11:16]: p["c"] for p in bed(shop, left)["ribbon"] if p["at"].startswith("2026-05-14")}
    assert ribbon["11:00"] > 25 > ribbon["13:00"]
    # Who takes it out before then says where it is: the way back is void.
    shop.clock.at += timedelta(minutes=30)
    assert move(shop, left, "cool room")["words"].startswith("In the cool room; ")
    shop.clock.at += timedelta(hours=4)
    assert bed(shop, left)["place"]["zone_id"] == "cool room"
    late = {"id": "x", "zone_id": "main shop", "back": "2026-05-14T09:00"}
    assert shop.refused("POST", f"/parts/{left}/place", late)["errors"][0]["field"] == "back"


def test_a_move_is_kept_once_and_to_where_it_is_already_refused(shop, left):
    for _ in range(2):
        move(shop, left, "cool room")
    again = shop.refused("POST", f"/parts/{left}/place", {"id": "again", "zone_id": "cool room"})
    assert again["detail"].endswith("Left wing, lower skin is in the cool room already")
    shop.ask("POST", f"/parts/{left}/place", {"id": "x", "zone_id": "attic"}, 404)


def test_a_part_that_was_read_warmer_than_its_air_cures_by_the_reading(shop, left):
    before = at(bed(shop, left), "sand")
    typed = {"id": "ir", "temp": {"text": "79 °F", "unit": "°C"}}
    said = shop.ask("POST", f"/parts/{left}/temperature", typed, 201)
    assert said["words"] == "In the main shop; itself 26.1 °C 09:20, typed."
    assert at(bed(shop, left), "sand") < before
    assert "of the part itself, 26.1 °C 09:20" in str(bed(shop, left)["knots"])
    hot = {"id": "x", "temp": {"text": "900", "unit": "°C"}}
    assert "can't be above 200 °C" in shop.refused("POST", f"/parts/{left}/temperature", hot)["detail"]


class OnThePart:
    def readings(self, after, until):
        return [(m, Air(31.0)) for m in range(int(after) + 1, int(until) + 1) if m > until - 600]


def test_a_second_probe_on_a_part_is_read_by_the_watch(shop, left):
    before = at(bed(shop, left), "peel")
    watch = Watch(shop.store, shop.clock, Instruments(on_parts={left: OnThePart()}))
    for _ in range(2):
        watch.tick()
    card = bed(shop, left)
    assert card["place"]["words"] == "In the main shop; itself 31.0 °C 09:15, by its probe."
    assert at(card, "peel") < before - timedelta(hours=1)
    assert card["state"] == "reached"


POINTS = st.lists(st.tuples(st.integers(0, 3000), st.floats(-5, 60)), min_size=1, max_size=6, unique_by=lambda p: p[0])


@given(POINTS, st.floats(5, 30))
def test_a_part_is_what_was_read_and_the_air_long_before_and_after(readings, air_c):
    part = as_read(Profile.of([(0, air_c), (3000, air_c)]), readings)
    for minute, celsius in readings:
        assert part.at(minute) == pytest.approx(celsius, abs=1e-6)
    assert part.at(readings and max(m for m, _ in readings) + 4000) == pytest.approx(air_c, abs=0.2)
    low, high = min(c for _, c in readings), max(c for _, c in readings)
    assert part.celsius.min() >= min(low, air_c) - 1e-9
    assert part.celsius.max() <= max(high, air_c) + 1e-9


def test_a_moved_part_has_each_zones_air_in_its_time():
    shop, cool = Profile.of([(0, 20), (100, 10)]), Profile.of([(0, 5), (200, 7)])
    part = moved([(0, shop), (50, cool), (80, shop)])
    assert [round(part.at(m), 2) for m in (25, 49.9, 51, 79, 81, 100)] == [17.5, 15.01, 5.51, 5.79, 11.9, 10]

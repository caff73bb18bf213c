"""The shop's own facts: several spells a day, breaks, closed days, its name, and the hours worked so far."""

from __future__ import annotations

import re
from datetime import timedelta

from tests.workshop.test_bench import settings

from kiteloom.core.base.calendar import minute_of, moment_of
from kiteloom.workshop.plan.plan import shop_plan


def working(shop):
    """Every stretch of work still ahead: begin and end."""
    with shop.store.reading() as uow:
        found = shop_plan(uow, minute_of(shop.clock.at))
        ahead = [placed for placed in found.plan.placed if placed.state == "to do"]
        pieces = [piece for placed in ahead for piece in placed.pieces]
        return [tuple(moment_of(minute, found.saying.zone) for minute in piece) for piece in pieces]


def test_an_evening_builder_has_two_spells_a_day_and_a_lunch_break(shop):
    week = ["6-7:30, 17.30–22", "", "", "", "", "8:00–12:00, 13:00–18:00", ""]
    view = settings(shop, week=week, name="The net loft")
    assert view["week"][0] == "06:00–07:30, 17:30–22:00"
    assert view["name"] == "The net loft"
    works = working(shop)
    assert works
    spells = {0: [(360, 450), (1050, 1320)], 5: [(480, 720), (780, 1080)]}
    for begin, end in works:  # Thursday's own hours are over; from then on it is the new week
        day = spells[begin.weekday()]
        of_day = [moment.hour * 60 + moment.minute for moment in (begin, end)]
        assert any(opens <= of_day[0] and of_day[1] <= closes for opens, closes in day), (begin, end)
    for line, named in (
        ("9-12, 11-15", "Monday: 09:00–12:00 and 11:00–15:00 overlap"),
        ("9", "Monday: “9” has no end"),
        ("17-9", "Monday ends at 09:00 and starts at 17:00"),
    ):
        body = {"version": view["version"], "week": [line, *week[1:]]}
        assert named in shop.refused("PATCH", "/shop", body)["detail"]


def test_on_a_closed_day_nobody_works_not_even_who_has_hours_of_their_own(shop):
    people = shop.get("/people")["people"]
    bo = next(person for person in people if person["name"] == "Bo")
    own = {"id": bo["id"], "name": "Bo", "version": bo["version"], "skills": bo["skills"], "week": ["8-20"] * 7}
    shop.ask("POST", "/people", own)
    tomorrow = (shop.clock.at + timedelta(days=1)).date().isoformat()

    assert tomorrow in {begin.date().isoformat() for begin, _ in working(shop)}
    settings(shop, closed=[tomorrow])
    days = {moment.date().isoformat() for piece in working(shop) for moment in piece}
    assert days
    assert tomorrow not in days


def test_hours_are_counted_by_person_and_by_part(shop):
    imre = next(person for person in shop.get("/people")["people"] if person["name"] == "Imre")
    before = imre["hours_words"]
    assert before.endswith(" noted so far")
    left = shop.part("Left wing, upper skin")
    shop.clock.at += timedelta(minutes=1)
    work = {"part_id": left, "step_key": "prepare", "crew": [imre["id"]]}
    started = shop.ask("POST", "/work", {"id": "s", "kind": "start", **work}, 201)
    shop.clock.at += timedelta(minutes=75)
    shop.ask("POST", "/work", {"id": "p", "kind": "pause", **work}, 201)
    assert shop.get(f"/parts/{left}")["hours"] == "1 h 15 min of work in it so far: Imre 1 h 15 min"
    shop.ask("POST", "/work/p/undo", {"id": "u"}, 201)
    shop.ask("POST", f"/work/{started['id']}/undo", {"id": "u2"}, 201)
    assert shop.get(f"/parts/{left}")["hours"] == ""
    assert next(p for p in shop.get("/people")["people"] if p["name"] == "Imre")["hours_words"] == before


def test_a_station_is_put_away(shop):
    station = shop.get("/people")["stations"][0]
    left = shop.ask("POST", f"/stations/{station['id']}/away", {"version": station["version"]})
    assert station["id"] not in {row["id"] for row in left["stations"]}


def test_times_and_dates_are_written_as_this_shop_writes_them_and_read_back(shop):
    before = shop.get("/shop")
    assert (before["clock"], before["dates"]) == ("24", "day")
    shop.ask("PATCH", "/shop", {"version": before["version"], "clock": "12", "dates": "month"})
    after = shop.get("/shop")
    assert after["week"][0] == "9:00 am–6:00 pm"
    # What is shown is read back the same.
    shop.ask("PATCH", "/shop", {"version": after["version"], "week": after["week"]})
    assert shop.get("/shop")["week"] == after["week"]
    left = shop.part("Left wing, lower skin")
    assert "check for “peel” from 9:37 am" in shop.get(f"/parts/{left}")["sentence"]
    assert re.search(r"(May|Jun) \d+ \d+:\d\d (am|pm)", shop.get("/loom")["sentence"])
    zone = shop.get("/climate/zones")["zones"][0]
    assert {"6:00 am", "9:00 pm"} <= {field["text"] for field in zone["fields"]}
    note = {"id": "w1", "part_id": shop.part("Rudder"), "step_key": "fit", "kind": "start", "at": "8:50 AM"}
    assert "8:50 am" in shop.ask("POST", "/work", note, 201)["words"]
    late = {**note, "id": "w2", "kind": "pause", "at": "13:00 pm"}
    assert "from 1 to 12" in shop.refused("POST", "/work", late)["detail"]
    us = shop.get("/shop")
    shop.ask("PATCH", "/shop", {"version": us["version"], "units": "us"})
    assert shop.get("/shop")["dates"] == "month"

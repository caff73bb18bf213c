"""What if, what helps most and how sure in the shop: nothing is kept of what is only supposed."""

from __future__ import annotations

import re
import time
from concurrent.futures import ThreadPoolExecutor
from itertools import count
from threading import Barrier

from tests.conftest import key_of

from kiteloom.store.models import Absence, CrewMember, DataSheet, Forecast, PlanStudy, Station, Zone
from kiteloom.workshop.plan import studies


def ask(shop, kind, changes=(), key="one", status=201, **more):
    return shop.ask("POST", "/studies", {"id": key, "kind": kind, "changes": list(changes), **more}, status)


def answered(shop, path="/what-if", *states):
    for _ in range(900):
        view = shop.get(path)
        if view["state"] in (states or ("done", "stopped", "failed")):
            return view
        time.sleep(0.1)
    raise AssertionError(view)


def named(shop, kind, name):
    return next(one["id"] for one in shop.get("/what-if")["can"][kind] if one["name"].startswith(name))


def supposed(shop, kind):
    """A change of each kind, of what is there."""
    days = {"first": "2026-05-20", "last": "2026-05-27"}
    tarn = next(one for one in shop.get("/what-if")["can"]["products"] if "slow" in one["name"])
    fast = next(one["id"] for one in tarn["to"] if "fast" in one["name"])
    return {
        "heat": {"of": named(shop, "zones", "Main"), "value": {"text": "64 °F", "unit": "°C"}},
        "person": {"skills": ["layup"], "week": [""] * 5 + ["0:00–24:00", ""]},
        "away": {"of": named(shop, "people", "Teo"), **days},
        "station": {"of": named(shop, "stations", "The bench"), "count": ""},
        "late": {"of": next((one["id"] for one in shop.get("/what-if")["can"]["awaited"]), ""), "count": "7"},
        "product": {"of": tarn["id"], "to": fast},
        "colder": {"value": {"text": "6", "unit": "K"}, **days},
    }[kind] | {"kind": kind}


SAID = {
    "heat": "The main shop is held at 17.8 °C round the clock",
    "person": "One more on the crew who can do layup, on Saturdays",
    "away": "Teo is away from 20 May to 27 May",
    "station": "The bench serves 1 more",
    "late": "7 days later",
    "product": "Tarn 210 with 212 fast in place of Tarn 210 with 214 slow",
    "colder": "Outside it is 6.0 °C colder from 20 May to 27 May",
}


def rows(shop):
    """What a change would change, were it made."""
    with shop.store.reading() as uow:
        kept = {kind: len(uow.all(kind)) for kind in (CrewMember, Absence, Forecast)}
        return kept, [(row.heat_c, row.version) for row in uow.all(Zone)], [row.capacity for row in uow.all(Station)]


def test_each_kind_of_change_is_supposed_said_and_compared_and_nothing_of_it_is_kept(shop):
    expected = {"id": "d", "part_id": shop.part("Left wing, upper skin"), "step_key": "prepare", "what": "foam"}
    shop.ask("POST", "/deliveries", {**expected, "expected_on": "2026-05-16"})
    before = rows(shop)
    for kind, said in SAID.items():
        for _ in range(2):  # pressed twice
            ask(shop, "what if", [supposed(shop, kind)], kind)
        view = answered(shop)
        assert view["said"][0].endswith(said)
        measures = {row["name"]: row for row in view["measures"]}
        assert measures["All done"]["then"]
        assert measures["Work ahead"]["now"].endswith(" h")
        assert "steps" in measures["At another time"]["then"]
        assert view["sentence"].startswith("All done ")
        # What can only make it later is never told as sooner: not for the sake of another order either.
        assert " sooner than" not in view["sentence"] or kind not in ("away", "late", "colder")
        assert view["mine"] == (kind != "colder")
    loom = shop.get("/loom?supposed=true&days=28")
    assert loom["sentence"].startswith("Supposed: all done ")
    # It begins where the plans differ, with what differs.
    assert {loom["parts"].index(loom["lanes"][0]["id"])} <= {
        loom["parts"].index(key.split(":")[0]) for key in loom["was"]
    }
    assert all("fixed" in block["flags"] for lane in loom["lanes"] for block in lane["blocks"])
    assert not shop.get("/loom")["sentence"].startswith("Supposed")
    assert rows(shop) == before


def test_changes_are_supposed_together_made_so_and_the_weather_stays_as_it_is(shop):
    both = [supposed(shop, "person"), supposed(shop, "heat"), supposed(shop, "colder")]
    ask(shop, "what if", both[:1], "a")
    ask(shop, "what if", both, "b")  # it takes the place of the one before
    view = answered(shop)
    assert (view["id"], len(view["said"])) == ("b", 3)
    assert next(row for row in view["measures"] if row["name"] == "Heating")["better"] == "now"
    forecasts = rows(shop)[0][Forecast]
    for _ in range(2):
        shop.ask("POST", "/studies/make-so", {"id": "b"})
    assert shop.get("/what-if")["sentence"] == "It is so since 14 May but for the weather."
    kept, zones, _ = rows(shop)
    assert kept[Forecast] == forecasts
    assert any(heat is not None and abs(heat - 17.8) < 0.1 for heat, _ in zones)
    with shop.store.reading() as uow:
        assert [row.skills for row in uow.all(CrewMember) if row.name == "One more"] == [["layup"]]
    refused = ask(shop, "what if", both[:1], "c", 422)["detail"]
    assert "“One more” works here already" in refused
    assert shop.get("/what-if")["kept"]


def test_what_would_make_the_plan_impossible_says_what_fails(shop):
    gone = [
        {"kind": "away", "of": one["id"], "first": "2026-05-14", "last": "2028-05-12"}
        for one in shop.get("/what-if")["can"]["people"]
    ]
    ask(shop, "what if", gone)
    view = answered(shop)
    assert "can't be planned then: " in view["fails"][0]
    assert next(row for row in view["measures"] if row["name"] == "Left out")["better"] == "now"


def test_what_the_shop_could_not_do_is_refused_and_the_last_what_if_stays(shop):
    ask(shop, "what if", [supposed(shop, "person")], "good")
    answered(shop)
    cold = {"kind": "colder", "first": "2026-05-20", "value": {"text": "5", "unit": "K"}}
    heat = {"kind": "heat", "of": "main shop"}
    for change, says in (
        (heat | {"value": {"text": "90", "unit": "°C"}}, "can't be above 60"),
        (heat, "how warm it is to be held"),
        ({"kind": "station", "of": "bench", "count": "0"}, "can't be below 1"),
        ({"kind": "station", "of": "bench", "count": "two"}, "“two” isn't understood"),
        (cold | {"last": "2026-05-01"}, "can't be before the first"),
        (cold | {"last": "2026-05-21", "value": {"text": "0", "unit": "K"}}, "above 0"),
        (cold, "from which day to which"),
        ({"kind": "away", "of": "nobody", "first": "2026-05-20", "last": "2026-05-21"}, "no crew member"),
        ({"kind": "product", "of": key_of("x"), "to": key_of("y")}, "no data sheet"),
    ):
        assert says in ask(shop, "what if", [change], "bad", None)["detail"]
        assert shop.get("/what-if")["id"] == "good"
    assert "nothing is supposed" in ask(shop, "what if", [], "none", 422)["detail"]
    assert "together is 13" in ask(shop, "what if", [supposed(shop, "person")] * 13, "many", 422)["detail"]


def test_a_product_that_fits_no_job_is_refused_in_the_words_of_the_job(shop):
    with shop.store.reading() as uow:
        sheets = {row.kind: row.id for row in uow.all(DataSheet)}
    one = supposed(shop, "product") | {"to": sheets["paint"]}
    assert "is a paint; laminating resin is wanted" in ask(shop, "what if", [one], status=422)["detail"]


def test_single_reliefs_are_tried_told_stopped_and_old_once_something_is_noted(shop):
    ask(shop, "helps")
    view = answered(shop, "/what-helps")
    assert view["helps"] or view["nothing"]
    assert not view["old"]
    assert {one["suppose"]["kind"] for one in view["helps"] if one["suppose"]} <= {"person", "station"}
    assert "No single relief" in view["sentence"] or "helps most" in view["sentence"]
    pin = {"crew_member_id": named(shop, "people", "Teo"), "start": "2026-05-20T00:00:00"}
    shop.ask("POST", "/absences", {"id": "gone", **pin, "end": "2026-05-21T00:00:00"}, None)
    assert shop.get("/what-helps")["old"]
    shop.ask("POST", "/studies/leave", {"id": "one"})
    assert shop.get("/what-helps")["state"] == "none"


def test_plans_are_drawn_stopped_at_once_and_the_dates_that_hold_are_told(shop):
    for draws, says in ((10, "can't be below 20"), (5000, "can't be above 1000")):
        assert says in ask(shop, "sure", draws=draws, status=422)["detail"]
    ask(shop, "sure", draws=1000)
    while (view := shop.get("/how-sure"))["drawn"] < 20:
        assert view["state"] in ("waiting", "looking")
        time.sleep(0.1)
    assert "looked into already" in ask(shop, "sure", key="two", status=422)["detail"]
    shop.ask("POST", "/studies/stop", {"id": "one"})
    view = answered(shop, "/how-sure", "stopped")
    assert sum(day["plans"] for day in view["days"]) == view["drawn"] < 1000
    assert view["dates"] == sorted(view["dates"])
    assert re.match(
        r"Half of the plans are done by \w{3} \d+ \w{3}, 95 of 100 by \w{3} \d+ \w{3}, and", view["sentence"]
    )
    assert view["decide"][0]["part"]
    american = {"version": shop.get("/shop")["version"], "units": "us", "clock": "12", "dates": "month"}
    shop.ask("PATCH", "/shop", american)
    assert re.match(r"Half of the plans are done by \w{3} \w{3} \d+, 95 of 100", shop.get("/how-sure")["sentence"])


def test_in_us_units_what_is_supposed_is_said_and_read_so(shop):
    shop.ask("PATCH", "/shop", {"version": shop.get("/shop")["version"], "units": "us", "dates": "month"})
    cold = supposed(shop, "colder") | {"value": {"text": "9", "unit": "°F"}}
    ask(shop, "what if", [cold, supposed(shop, "heat") | {"value": {"text": "68", "unit": "°F"}}])
    view = answered(shop)
    assert view["said"][0] == "Outside it is 9.0 °F colder from May 20 to May 27"
    assert view["said"][1].startswith("The main shop is held at 68 °F")
    assert "°F for" in next(row for row in view["measures"] if row["name"] == "Heating")["then"]
    refused = ask(shop, "what if", [cold | {"value": {"text": "70", "unit": "°F"}}], "b", 422)["detail"]
    assert "Colder by is 70 °F; it can't be above 54 °F" in refused


def test_a_worker_that_is_killed_is_said_and_what_was_asked_when_the_program_ended_is_stopped(shop):
    ask(shop, "sure", draws=1000)
    answered(shop, "/how-sure", "looking")
    worker = shop.app.extensions["kiteloom.worker"]
    worker._process.kill()
    view = answered(shop, "/how-sure", "failed", "stopped")
    assert view["sentence"]
    with shop.store.writing() as uow:
        uow.get(PlanStudy, "one").state = "looking"
    shop.reopen()
    assert shop.get("/how-sure")["state"] == "stopped"


def test_the_same_asked_twice_at_once_is_looked_into_and_not_stopped_by_itself(shop, monkeypatch):
    """Both are looked at before either is written down, as when a button is pressed twice on a slow machine."""
    both, changed, calls = Barrier(2, timeout=60), studies._changed, count()

    def together(*asked):
        found, n = changed(*asked), next(calls)
        if n < 2:
            both.wait()
        while n == 1 and shop.get("/what-if")["state"] in ("none", "waiting"):
            time.sleep(0.02)  # the other is at it by now
        return found

    monkeypatch.setattr(studies, "_changed", together)
    one = [supposed(shop, "heat")]
    with ThreadPoolExecutor(2) as pool:
        for sent in [pool.submit(ask, shop, "what if", one, "twice", None) for _ in range(2)]:
            assert sent.result()["id"] == "twice"
    view = answered(shop)
    assert (view["id"], view["state"]) == ("twice", "done")
    assert view["sentence"].startswith("All done ")

"""Several people at once, a day that goes on, and temperatures from several sources."""

import threading
from datetime import date, timedelta
from uuid import uuid4

import pytest
from tests.conftest import MORNING
from tests.shapes import retyped

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed
from kiteloom.demo import products, week
from kiteloom.store.unit_of_work import LOOKS, Memory
from kiteloom.workshop.air.climate import SayOutlook, say_outlook, shop_temperature
from kiteloom.workshop.air.imports import TakeFile, take
from kiteloom.workshop.build.founding import Founding
from kiteloom.workshop.build.parts import built_parts
from kiteloom.workshop.plan.plan import shop_plan

NOW = MORNING.timestamp() / 60


def at_once(jobs):
    results = []
    threads = [threading.Thread(target=lambda job=job: results.append(job())) for job in jobs]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return results


def test_of_eight_browsers_saving_the_same_version_one_wins_and_seven_are_told(shop, left_upper):
    view = shop.get(f"/parts/{left_upper}/shape")

    def save(chord):
        body = retyped(view, chord_2=f"{chord}")
        answer = shop.app.test_client().patch(f"/api/v1/shapes/{view['shape_id']}", json=body)
        return answer.status_code, answer.json

    results = at_once([lambda n=n: save(0.5 + n / 100) for n in range(8)])
    assert sorted(status for status, _ in results) == [200] + [409] * 7
    told = {words for status, problem in results if status == 409 for words in problem["changed"]}
    assert len(told) == 2  # its chord and the area
    after = shop.get(f"/parts/{left_upper}/shape")
    assert after["version"] == view["version"] + 1
    assert after["typed"]["stations"][1]["chord"] in " ".join(told)


def test_readers_never_see_half_a_save(shop, left_upper):
    """Span and chord are always changed together; whoever reads sees both or neither."""
    path = f"/shapes/{shop.get(f'/parts/{left_upper}/shape')['shape_id']}"
    seen = []

    def write():
        for n in range(10):
            view = shop.get(f"/parts/{left_upper}/shape")
            shop.app.test_client().patch(f"/api/v1{path}", json=retyped(view, at_2=f"{5 + n}", chord_1=f"{1 + n / 10}"))

    def read():
        client = shop.app.test_client()
        for _ in range(25):
            root, tip = client.get(f"/api/v1/parts/{left_upper}/shape").json["typed"]["stations"]
            seen.append((tip["at"], root["chord"]))

    at_once([write, read, read])
    pairs = {(f"{5 + n} m", f"{1 + n / 10:g} m") for n in range(10)} | {("7.2 m", "1.12 m")}
    assert set(seen) <= pairs
    assert shop.get(f"/parts/{left_upper}/shape")["typed"]["stations"][1]["at"] == "14 m"  # it was written


def test_a_part_goes_from_curing_to_work_as_the_hours_pass(shop):
    left = shop.part("Left wing, lower skin")
    states, waits = [], []
    for hours in (0, 3, 30):
        shop.clock.at = MORNING + timedelta(hours=hours)
        states.append(shop.get(f"/parts/{left}")["state"])
        waits.append([wait["part_id"] for wait in shop.get("/weather")["waits"]])
    assert states == ["curing", "in work", "in work"]
    assert waits == [[left], [], []]
    assert shop.get(f"/parts/{left}")["sentence"].startswith("Next, ")


def test_each_kind_of_change_is_heard_under_its_topic(shop, left_upper):
    seq = shop.get("/now?since=-1")["seq"]
    form = shop.get(f"/parts/{left_upper}/shape")
    shop.ask(
        "PATCH",
        f"/shapes/{form['shape_id']}",
        retyped(form, sections={2: {"naca": "0012"}}),
    )
    design = shop.get(f"/parts/{left_upper}/mix")
    losses = {"version": design["version"], "losses": {"trim_pct": {"text": "10", "unit": "%"}}}
    shop.ask("PATCH", f"/jobs/{design['job_id']}/losses", losses)
    shop.ask("PATCH", "/shop", {"version": shop.get("/shop")["version"], "units": "us"})
    outlook = {"id": str(uuid4()), "low": {"text": "5", "unit": "°C"}, "high": {"text": "15", "unit": "°C"}}
    shop.ask("POST", "/climate/outlooks", outlook, status=201)
    shop.ask("POST", "/climate/outlooks", outlook, status=201)  # sent again: heard once
    heard = shop.get(f"/now?since={seq}")["changes"]
    assert [change["topic"] for change in heard] == ["shape", "design", "shop", "climate"]
    assert [change["seq"] for change in heard] == sorted(change["seq"] for change in heard)


@pytest.fixture
def uow(empty_shop):
    with empty_shop.store.writing() as unit:
        Founding(unit, MORNING).shop("A shed", "Europe/Vienna", week.HOURS)
        yield unit


def say(uow, low, high, hours=0.0):
    typed = (Typed(str(celsius), "°C") for celsius in (low, high))
    say_outlook(uow, SayOutlook(str(uuid4()), *typed), MORNING + timedelta(hours=hours))


def record(uow, celsius, start, hours):
    rows = [f"{(MORNING + timedelta(hours=start + n)).isoformat()},{celsius}" for n in range(hours)]
    take(uow, TakeFile(str(uuid4()), "a.csv"), "\n".join(["time,temp °C", *rows]), MORNING)


def known_at(uow, *hours):
    known = shop_temperature(uow, NOW - 7 * 1440, NOW)
    return known, [round(known.profile.at(NOW + 60 * hour), 1) for hour in hours]


def test_nothing_given_is_nothing_known(uow):
    assert shop_temperature(uow, NOW, NOW) is None


def test_an_outlook_alone_repeats_every_day_and_is_all_expected(uow):
    say(uow, 8, 20)
    known, (night, day, week) = known_at(uow, 20.67, 29.67, 20.67 + 6 * 24)
    assert (night, day, week) == (8.0, 20.0, 8.0)
    _, months_ahead = known_at(uow, 20.67 + 110 * 24, 29.67 + 110 * 24)
    assert months_ahead == [8.0, 20.0]  # nights go on for as long as any plan may look
    assert known.known.assumed(NOW, NOW + 60)
    assert known.words == "expected: low 8.0 °C and high 20.0 °C, typed 09:20, for every day to come"


def test_a_newer_outlook_counts_from_when_it_was_said(uow):
    say(uow, 8, 20, hours=-48)
    say(uow, 2, 6)
    _, (before, after) = known_at(uow, -18.33, 5.67)
    assert before == 20.0
    assert after == 6.0


def test_a_record_comes_before_any_outlook_and_is_not_assumed(uow):
    say(uow, 8, 20)
    record(uow, 12.5, -30, 31)
    known, (then, now, much_later) = known_at(uow, -10, 0, 29.67)
    assert (then, now) == (12.5, 12.5)
    assert much_later == pytest.approx(20, abs=0.2)
    assert not known.known.assumed(NOW - 600, NOW - 60)
    assert known.known.assumed(NOW - 600, NOW + 60)


def test_an_outlook_much_older_than_the_record_gives_way_to_the_last_recorded_day(uow):
    say(uow, -5, 0, hours=-72)
    record(uow, 12.5, -30, 31)
    known, (later,) = known_at(uow, 40)
    assert later == 12.5
    assert "the last recorded day is repeated" in known.words


def test_the_same_reading_from_two_files_is_kept_as_first_known(uow):
    record(uow, 12.5, -30, 31)
    record(uow, 19.0, -30, 31)
    _, (then,) = known_at(uow, -10)
    assert then == 12.5


@pytest.mark.parametrize(
    ("kind", "says", "named"),
    [
        ("yarn", {}, "“yarn” is not a kind of data sheet"),
        ("cloth", {"areal_weight_g_m2": 0, "fibre": "glass"}, "Weight is 0; it must be above 0"),
        (
            "laminating resin",
            {**products.TARN_SLOW, "ratio": {"resin": 100, "hardener": 0, "basis": "weight"}},
            "hardener",
        ),
        ("laminating resin", {**products.MERE, "resin_density_g_ml": "light"}, "which is no number"),
    ],
)
def test_a_data_sheet_the_core_cannot_use_is_not_kept(uow, kind, says, named):
    with pytest.raises(Refused, match=named):
        Founding(uow, MORNING).data_sheet(kind, "Invented", says)


def test_a_lot_belongs_to_a_product_that_is_there(uow):
    founding = Founding(uow, MORNING)
    sheet = founding.data_sheet("laminating resin", "Tarn", products.TARN_SLOW)
    assert founding.lot(sheet, "T-1", date(2026, 5, 1), None)


def test_while_work_is_noted_every_page_reads_a_whole_plan_and_what_held_each_step(shop):
    """Ten tablets ask for the same plan at once, on both sides of each note: none sees half of one."""
    rudder, stop, seen = shop.part("Rudder"), threading.Event(), []

    def read(path):
        client = shop.app.test_client()
        while not stop.is_set():
            answer = client.get(f"/api/v1{path}")
            seen.append((path, answer.status_code, answer.json))

    def note():
        client = shop.app.test_client()
        for n in range(6):
            body = {"id": str(uuid4()), "part_id": rudder, "step_key": "fit", "kind": ("start", "pause")[n % 2]}
            assert client.post("/api/v1/work", json=body).status_code == 201
        stop.set()

    step = f"/loom/step?part_id={rudder}&step_key=fit"
    paths = ("/today", "/loom?days=14", step, f"/parts/{rudder}/times", "/loom?by=person&days=14", "/cures")
    at_once([*(lambda path=path: read(path) for path in paths * 2), note])
    assert {path for path, _, _ in seen} == set(paths)
    assert {status for _, status, _ in seen} == {200}
    states = {
        step["state"]
        for path, _, body in seen
        if path.endswith("/times")
        for step in body["steps"]
        if step["key"] == "fit"
    }
    assert states <= {"running", "paused"}
    whys = {body["why"] for path, _, body in seen if path == step}
    assert all(why.startswith(("Not sooner: ", "It ")) for why in whys)


def test_what_is_built_is_made_anew_when_it_changes_and_not_for_work(shop):
    rudder = shop.part("Rudder")

    def minutes():
        return {step["key"]: step["minutes"] for step in shop.get(f"/parts/{rudder}/times")["steps"]}

    before = minutes()
    with shop.store.reading() as uow:
        once = built_parts(uow)
    body = {"id": str(uuid4()), "part_id": rudder, "step_key": "fit", "kind": "start"}
    shop.ask("POST", "/work", body, 201)
    with shop.store.reading() as uow:
        assert built_parts(uow) is once
    version = shop.version(rudder)
    changed = {"version": version, "step_key": "fit", "minutes": {"text": "3", "unit": "h"}}
    shop.ask("PATCH", f"/parts/{rudder}/minutes", changed)
    assert minutes() == {**before, "fit": 180}
    with shop.store.reading() as uow:
        again = built_parts(uow)
        assert again is not once
        assert built_parts(uow) is again


def test_who_goes_home_is_away_for_everybody_who_asks_in_that_minute(shop):
    sanna = next(p for p in shop.get("/people")["people"] if p["name"] == "Sanna")
    asked = shop.clock.at
    shop.clock.at = asked + timedelta(seconds=40)
    shop.ask("POST", "/absences", {"id": str(uuid4()), "crew_member_id": sanna["id"]}, 201)
    shop.clock.at = asked  # a page that had asked for the time before
    here = next(h for h in shop.get("/today")["day"] if h["name"] == "Sanna")
    assert (here["here"], here["words"]) == (False, "away until Fri 00:00")
    shop.clock.at = asked + timedelta(seconds=50)
    shop.ask("POST", f"/absences/{here['absence_id']}/back", {})
    assert next(h for h in shop.get("/today")["day"] if h["name"] == "Sanna")["here"] is True
    assert next(p for p in shop.get("/people")["people"] if p["name"] == "Sanna")["away"] == []


def test_what_is_written_after_a_look_was_seen_as_it_is(shop):
    looks, rudder = [], shop.part("Rudder")

    def look(uow):
        looks.append(uow.last_change())
        if len(looks) == 1:  # somebody else writes in between
            shop.ask("POST", "/work", {"id": "w", "part_id": rudder, "step_key": "fit", "kind": "start"}, 201)
        return looks[-1]

    assert shop.store.after_a_look(look, lambda uow, seen: (seen, uow.last_change())) == (looks[1], looks[1])
    assert len(looks) == 2


def test_a_shop_that_never_stands_still_is_written_to_all_the_same(shop):
    looks = []

    def look(uow):
        looks.append(uow.last_change())
        outlook = {"low": {"text": "5", "unit": "°C"}, "high": {"text": "15", "unit": "°C"}}
        shop.ask("POST", "/climate/outlooks", {"id": f"o{len(looks)}", **outlook}, 201)
        return looks[-1]

    assert shop.store.after_a_look(look, lambda _, seen: seen) == looks[-1]
    assert len(looks) == LOOKS


def test_who_asks_for_one_thing_does_not_wait_for_another_that_is_being_made(shop):
    memory, begun, go = Memory(), threading.Event(), threading.Event()

    def slow():
        begun.set()
        assert go.wait(10)
        return "slow"

    makes = threading.Thread(target=lambda: memory.made(1, "plan", slow))
    makes.start()
    assert begun.wait(10)
    assert memory.made(1, "cups", lambda: "quick") == "quick"
    go.set()
    makes.join()
    assert memory.made(1, "plan", lambda: "made twice") == "slow"
    assert memory.made(2, "plan", lambda: "anew") == "anew"


def test_no_plan_is_placed_inside_a_write(shop):
    with shop.store.writing() as uow, pytest.raises(AssertionError, match="inside a write"):
        shop_plan(uow, minute_of(MORNING))

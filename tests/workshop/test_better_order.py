"""A better order in the shop: looked for in the worker, stopped, made the plan, left; over what was noted meanwhile."""

import json
import time
from dataclasses import replace
from datetime import timedelta

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.plan.place import place
from kiteloom.formats.plan_input import read
from kiteloom.store.models import PlanSearch, StandingOrder
from kiteloom.workshop.plan.kept import keep_plan, made_from
from kiteloom.workshop.plan.plan import shop_plan
from kiteloom.workshop.plan.searches import settle
from kiteloom.workshop.plan.standing import keep_standing


def look(shop, key="one", seconds=3.0, status=201, **more):
    return shop.ask("POST", "/better-order", {"id": key, "seconds": seconds, "seed": 1, **more}, status)


def until(shop, *states):
    """The search, once it is in one of these states."""
    for _ in range(600):
        view = shop.get("/better-order")
        if view["state"] in states:
            return view
        time.sleep(0.1)
    raise AssertionError(view)


def ends(shop):
    with shop.store.reading() as uow:
        plan = shop_plan(uow, minute_of(shop.clock.at))
        return plan.plan.finish, len(plan.plan.unplaced)


def upside_down(shop):
    """A plan whose parts stand in the worst order: what is longest comes last."""
    keep_standing(shop.store, shop.clock.at)
    with shop.store.writing() as uow:
        row = uow.get(StandingOrder, 1)
        row.keys = list(reversed(row.keys))
        row.begins = {}
        row.judged = uow.last_change() + 1
        uow.changed("plan", "standing")


def test_a_better_order_is_found_made_the_plan_and_stands(shop):
    best, _ = ends(shop)
    upside_down(shop)
    before, _ = ends(shop)
    assert before > best
    for _ in range(2):  # pressed twice
        look(shop, "found", 8)
    refused = look(shop, "second", 3, 422)["detail"]
    assert "is being looked for already; stop that first" in refused
    assert shop.get("/better-order")["id"] == "found"
    view = until(shop, "done")
    finishes = [end["finish"] for end in view["ends"]]
    assert finishes == sorted(finishes, reverse=True)
    assert "sooner than the plan there is" in view["sentence"]
    for _ in range(2):
        shop.ask("POST", "/better-order/keep", {"id": "found"})
    after, left_out = ends(shop)
    assert after < before
    assert left_out == 0
    assert shop.get("/better-order")["kept"]
    with shop.store.reading() as uow:
        kept, stood = uow.get(PlanSearch, "found"), uow.get(StandingOrder, 1)
        assert kept.version
        assert stood.overnight == kept.overnight
    # Accepted, it is kept with all it was made from, and is the same when it is placed again.
    assert shop.get("/plan/accepted")["seed"] is None
    shop.ask("POST", "/plan/accept", {"id": "mine"}, 201)
    again = shop.get("/plan/accepted")
    assert (again["same"], again["seed"], again["version"]) == (True, 1, kept.version)
    assert "the same to the minute" in again["words"]
    whole = json.loads(shop.client.get("/api/v1/plan/accepted.json").data)
    placed = place(read(json.dumps(whole["made_from"])))
    assert (list(placed.order), placed.finish) == (whole["order"], after)
    # It stands while nothing happens, until another is clearly better.
    shop.clock.at += timedelta(minutes=1)
    keep_standing(shop.store, shop.clock.at)
    assert ends(shop)[0] <= after + 60


def test_stopped_it_keeps_the_best_so_far_and_what_is_left_changes_nothing(shop):
    look(shop, "one", 60)
    until(shop, "looking", "done")
    began = time.monotonic()
    shop.ask("POST", "/better-order/stop", {"id": "one"})
    view = until(shop, "stopped", "done")
    assert time.monotonic() - began < 20
    before = ends(shop)
    shop.ask("POST", "/better-order/leave", {"id": "one"})
    assert shop.get("/better-order")["state"] == "none"
    assert ends(shop) == before
    assert view["known"]
    look(shop, "two", 1)  # the next has its turn
    assert until(shop, "done")["id"] == "two"


def test_an_order_that_is_no_better_over_what_was_noted_since_is_not_kept(shop):
    look(shop, "one", 1)
    until(shop, "done")
    with shop.store.writing() as uow:
        row = uow.get(PlanSearch, "one")
        # As if it had been found while all of this was still to do.
        row.ends = [*row.ends, [1.0, row.ends[0][1] - 5000, 0.0]]
    assert "Over what was noted since it ends no sooner" in shop.get("/better-order")["sentence"]
    refused = shop.ask("POST", "/better-order/keep", {"id": "one"}, 422)["detail"]
    assert "it ends no sooner than the plan there is" in refused


def test_a_budget_of_an_hour_is_refused(shop):
    assert "the time to search is 3600 s; it can't be above 300 s" in look(shop, "x", 3600, 422)["detail"]
    assert "can't be below 1" in look(shop, "x", 0, 422)["detail"]
    assert shop.get("/better-order")["state"] == "none"


def test_what_was_looked_for_when_the_program_ended_is_said_to_be_stopped(shop):
    look(shop, "one", 1)
    until(shop, "done")
    with shop.store.writing() as uow:
        uow.get(PlanSearch, "one").state = "looking"
    assert shop.get("/better-order")["state"] == "stopped"  # nobody is at it
    with shop.store.writing() as uow:
        settle(uow)
        assert uow.get(PlanSearch, "one").words == "the program was stopped meanwhile"


def test_calm_days_by_a_date_become_the_plan_and_do_not_give_way_to_a_sooner_end(shop):
    assert "calm days want a day" in look(shop, "x", aim="calm", status=422)["detail"]
    assert "only calm days" in look(shop, "x", aim="heating", done_by="2026-07-01", status=422)["detail"]
    assert "can't be below 0" in look(shop, "x", aim="calm", done_by="2026-05-01", status=422)["detail"]
    keep_standing(shop.store, shop.clock.at)
    soonest, _ = ends(shop)
    look(shop, "calm", 6, aim="calm", done_by="2026-06-30")
    view = until(shop, "done")
    assert view["sentence"].startswith("The fullest day has ")
    assert view["can_keep"]
    shop.ask("POST", "/better-order/keep", {"id": "calm"})
    calm, _ = ends(shop)
    assert calm > soonest + 4 * 60
    away = {
        "crew_member_id": shop.get("/bench")["crew"][0]["id"],
        "start": "2026-06-20T09:00",
        "end": "2026-06-20T10:00",
    }
    shop.ask("POST", "/absences", {"id": "hour", **away}, None)
    keep_standing(shop.store, shop.clock.at)
    assert ends(shop)[0] > soonest + 4 * 60
    with shop.store.reading() as uow:
        assert uow.get(StandingOrder, 1).aim == "calm"


def test_kept_days_stay_unless_moving_them_saves_so_much_and_are_then_kept_as_they_become(shop):
    upside_down(shop)
    shop.ask("POST", "/plan/accept", {"id": "bad"}, 201)
    shop.ask("POST", "/plan/freeze", {"version": shop.get("/shop")["version"], "days": 28})
    assert "can't be below 0" in look(shop, "x", saves_h=-1, status=422)["detail"]
    frozen, _ = ends(shop)
    look(shop, "never", 4)
    assert "moves days that are kept" not in until(shop, "done")["sentence"]
    look(shop, "much", 8, saves_h=2000)
    assert "moves days that are kept" not in until(shop, "done")["sentence"]
    look(shop, "some", 16, saves_h=1)
    view = until(shop, "done")
    assert view["kept_days"] == 28
    assert view["sentence"].endswith("It moves days that are kept as they were accepted.")
    shop.ask("POST", "/better-order/keep", {"id": "some"})
    assert ends(shop)[0] <= frozen - 60
    assert shop.get("/plan/accepted")["same"]
    assert "As in the plan accepted" in shop.get("/loom")["compared"]


def test_other_aims_are_said_in_their_own_words(shop):
    for key, aim, says in (
        ("t", "turnings", "Turnings ahead: "),
        ("h", "heating", "needs the warmth of its sheet for"),
    ):
        look(shop, key, 2, aim=aim)
        words = until(shop, "done")["sentence"]
        assert says in words or "turns things no less often" in words or "needs warmth for no less time" in words


def test_an_accepted_plan_without_what_it_was_made_from_says_so_and_one_that_is_placed_otherwise_how_much(shop):
    with shop.store.reading() as uow:
        plan = shop_plan(uow, minute_of(shop.clock.at))
        made = made_from(uow, plan.input, plan.plan)
    last = plan.plan.placed[-1]
    moved = replace(plan.plan, placed=(*plan.plan.placed[:-1], replace(last, end=last.end + 5)))
    for minutes, kept in ((1, made), (2, None)):
        with shop.store.writing() as uow:
            keep_plan(uow, f"kept {minutes}", "accepted", moved, minute_of(shop.clock.at) + minutes, kept)
        again = shop.get("/plan/accepted")
        assert again["same"] is (None if kept is None else False)
        assert ("1 step then has another time" if kept else "without what it was made from") in again["words"]

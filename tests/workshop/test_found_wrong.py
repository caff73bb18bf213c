"""What is found wrong on a part: written down, decided, mended by a job of its own; steps that do not apply."""

from __future__ import annotations

import io
import re
from datetime import timedelta

import pytest
from PIL import Image
from tests.shapes import retyped
from tests.workshop.test_plan_of_the_shop import planned


@pytest.fixture
def left(shop):
    return shop.part("Left wing, lower skin")


@pytest.fixture
def who(shop):
    return shop.get("/bench")["crew"][0]["id"]


def found(shop, part, **more):
    body = {"id": "d1", "part_id": part, "kind": "dry spot", "words": "60 × 40 mm, first ply only", **more}
    return shop.ask("POST", "/deviations", body, 201)["deviations"][0]


def decide(shop, kind, who, status=201, key="one", **more):
    body = {"id": key, "kind": kind, "crew_member_id": who, "note": "by the kit's manual", **more}
    return shop.ask("POST", "/deviations/d1/decisions", body, status)


def placed(shop, part):
    return {p.step.in_part: p for p in planned(shop).plan.placed if p.step.part == part}


def test_what_is_found_is_placed_on_the_drawing_photographed_and_waits_for_a_decision(shop, left, who):
    at = shop.get(f"/parts/{left}/deviations")["outline"][0]
    middle = [sum(point[axis] for point in at) / len(at) for axis in (0, 1)]
    view = found(shop, left, at=middle, crew_member_id=who)
    assert view["at"] == pytest.approx(middle)
    assert view["sentence"] == "Not decided yet."
    assert view["words"].startswith("Dry spot: 60 × 40 mm, first ply only. Found 09:20 by ")
    assert [row["words"] for row in shop.get("/today")["decide"]] == [
        f"Left wing, lower skin: {view['words']} Not decided yet."
    ]
    beside = {"id": "d2", "part_id": left, "kind": "dent", "at": [middle[0], middle[1] + 5]}
    assert "lies beside Left wing, lower skin" in shop.refused("POST", "/deviations", beside)["detail"]
    drawn = io.BytesIO()
    Image.new("RGB", (40, 30), "sienna").save(drawn, "PNG")
    put = shop.client.put("/api/v1/deviations/d1/photos/p", data=drawn.getvalue(), content_type="image/png")
    assert put.status_code == 201
    assert shop.get(f"/parts/{left}/deviations")["deviations"][0]["photos"] == ["p"]
    assert "a decision is signed" in decide(shop, "accept", None, 422)["detail"]
    decide(shop, "accept", who)
    assert shop.get("/today")["decide"] == []


def test_mending_is_a_job_in_the_plan_before_the_step_it_must_be_done_before(shop, left, who):
    found(shop, left)
    before = placed(shop, left)
    choices = [step["id"] for step in shop.get(f"/parts/{left}/deviations")["before"]]
    assert "skin-2/layup" in choices
    decide(shop, "mend", who, before="skin-2/layup")
    view = shop.get(f"/parts/{left}/deviations")["deviations"][0]
    assert (view["state"], view["job"]) == ("to mend", "j2")
    roles = shop.get(f"/parts/{left}/job?job=j2")["roles"]
    tarn = next(p["id"] for p in shop.get("/bench")["products"] if p["name"] == "Tarn 210 with 214 slow")
    assert [role["sheet_id"] for role in roles] == [tarn]  # what it is built with
    now = placed(shop, left)
    assert [key for key in now if key.startswith("j2:")] == ["j2:cut-back", "j2:lay", "j2:flush"]
    assert now["j2:cut-back"].begins >= before["core/bed"].ready - 1
    assert now["skin-2/layup"].begins >= now["j2:flush"].end
    assert placed(shop, shop.part("Right wing, lower skin")).keys() & {"j2:lay"} == set()  # this part alone
    other = decide(shop, "accept", who, key="two")
    assert other["id"] == "two"
    assert not any(key.startswith("j2:") for key in placed(shop, left))  # called off, and out of the plan


def test_a_scrapped_part_is_left_out_with_its_reason_until_it_is_opened_again(shop, left, who):
    found(shop, left)
    decide(shop, "scrap", who)
    why = {u.step.in_part: u.why for u in planned(shop).plan.unplaced if u.step.part == left}
    assert "it is scrapped: by the kit's manual" in why["skin-2/layup"]
    decide(shop, "open", who, key="again")
    assert "skin-2/layup" in placed(shop, left)


def test_what_is_laid_already_is_changed_on_paper_only_with_a_reason_that_stays(shop, left):
    view = shop.get(f"/parts/{left}/plies")
    plies = [{"cloth_id": p["cloth_id"], "angle": {"text": f"{p['angle_deg']:g}", "unit": "°"}} for p in view["plies"]]
    core = {"core_id": view["core"]["core_id"], "core_after": view["core"]["after"]}
    body = {"version": view["version"], "job": view["job"], "plies": plies[:-1], **core}
    asked = shop.refused("PUT", f"/parts/{left}/plies", body)
    assert asked["errors"][0]["field"] == "reason"
    assert (
        "mixes are on Left wing, lower skin and Right wing, lower skin already: to change this now is a deviation"
        in asked["detail"]
    )
    shop.ask("PUT", f"/parts/{left}/plies", {**body, "reason": "the last ply was left out"})
    kept = shop.get(f"/parts/{left}/deviations")["deviations"][0]
    assert kept["words"].startswith("The ply book was changed: the last ply was left out.")
    upper = shop.get(f"/parts/{shop.part('Left wing, upper skin')}/plies")
    assert upper["code"]  # nothing was asked of a part nobody has begun


def test_a_step_that_does_not_apply_says_why_lets_the_next_one_go_and_can_be_taken_back(shop):
    upper = shop.part("Left wing, upper skin")
    skip = {"id": "s", "part_id": upper, "step_key": "prepare", "kind": "skip"}
    assert "why “Prepare mould, cut cloth” does not apply" in shop.refused("POST", "/work", skip)["detail"]
    told = shop.ask("POST", "/work", {**skip, "note": "the mould was left waxed"}, 201)["words"]
    assert told.startswith("Does not apply: “Prepare mould, cut cloth”")
    step = next(s for s in shop.get(f"/parts/{upper}/times")["steps"] if s["key"] == "prepare")
    assert (step["state"], step["skipped"]) == ("done", "the mould was left waxed")
    shop.clock.at += timedelta(minutes=1)
    assert shop.get(f"/parts/{upper}")["hours"] == ""
    shop.ask("POST", "/work/s/undo", {"id": "u"}, 201)
    step = next(s for s in shop.get(f"/parts/{upper}/times")["steps"] if s["key"] == "prepare")
    assert step["state"] == "to do"


def test_a_step_is_called_otherwise_and_one_of_the_shops_own_gets_a_station(shop):
    upper = shop.part("Left wing, upper skin")
    name = {"version": shop.version(upper), "step_key": "prepare", "name": "Wax the mould twice"}
    shop.ask("PATCH", f"/parts/{upper}/step-name", name)
    own = {"id": "drain", "name": "Drill the drain", "after": "skin-2/peel", "stations": ["bench"]}
    own |= {"minutes": {"text": "1 h 30", "unit": "min"}, "wait": {"text": "0", "unit": "min"}}
    shop.ask("POST", f"/parts/{upper}/steps", {"version": shop.version(upper), **own}, 201)
    steps = {s["key"]: s for s in shop.get(f"/parts/{upper}/times")["steps"]}
    assert steps["prepare"]["name"] == "Wax the mould twice"
    assert (steps["own/drain"]["minutes"], steps["own/drain"]["stations"]) == (90, ["bench"])
    placed_own = placed(shop, upper)["own/drain"]
    assert placed_own.step.stations
    moved = {"version": shop.version(upper), "step_key": "own/drain", "stations": []}
    shop.ask("PATCH", f"/parts/{upper}/step-stations", moved)
    assert placed(shop, upper)["own/drain"].step.stations == ()
    recipes = {"version": shop.version(upper), "step_key": "prepare", "stations": ["bench"]}
    assert "belongs to the recipe" in shop.refused("PATCH", f"/parts/{upper}/step-stations", recipes)["detail"]


def note(shop, key, part, step, kind, **more):
    return shop.ask("POST", "/work", {"id": key, "part_id": part, "step_key": step, "kind": kind, **more}, 201)


def test_a_step_is_not_taken_back_under_one_that_stands_on_it(shop, left):
    """The core lies on the peeled skin: with the peel taken back two states would exclude each other."""
    last = next(step for step in shop.get(f"/parts/{left}/times")["steps"] if step["key"] == "skin-1/peel")
    problem = shop.refused("POST", f"/work/{last['note_id']}/undo", {"id": "u"})
    assert "“Bed the core and bag it” was begun after “Open the bag, inspect the o" in problem["detail"]


def test_what_was_read_or_is_built_upon_is_not_called_due(shop, left):
    steps = {step["key"]: step["words"] for step in shop.get(f"/parts/{left}/times")["steps"]}
    assert "due since" not in steps["skin-1/layup"]  # it was read hard, peeled, and the core lies on it
    assert steps["skin-1/layup"].endswith("“peel” was read, and it is released.")


def test_nothing_more_is_mixed_for_what_is_finished(shop, left):
    needs = {need["step_key"]: need for need in shop.get(f"/parts/{left}/mix")["needs"]}
    assert (needs["skin-1/layup"]["finished"], needs["skin-1/layup"]["left_g"]) == (True, 0)
    assert needs["skin-2/layup"]["left_g"] > 2000


def test_nothing_is_pinned_to_an_hour_at_which_nobody_works(shop):
    upper = shop.part("Left wing, upper skin")
    pin = {"id": "p", "part_id": upper, "step_key": "prepare", "start": "2026-05-17T17:00"}  # a Sunday
    problem = shop.refused("POST", "/pins", pin)
    assert "nobody works Sun 17 May 17:00; work begins again Mon 18 May 09:00" in problem["detail"]
    shop.ask("POST", "/pins", {**pin, "start": "2026-05-18T10:00"}, 201)


def test_a_window_over_two_days_names_both(shop, left):
    knots = [
        knot["words"]
        for step in shop.get(f"/parts/{left}/times")["steps"]
        for knot in step["knots"]
        if "between" in knot["words"]
    ]
    assert any(re.fullmatch(r"00:04 \(between Wed 13 May 23:09 and today 01:24\)", words) for words in knots)
    assert any(re.fullmatch(r"\d\d:\d\d \(between \d\d:\d\d and \d\d:\d\d\)", words) for words in knots)  # one day


@pytest.mark.parametrize(
    ("naca", "named"),
    [("0099", "would be 99% thick; at most 40%"), ("23012", "load the coordinate file of one of five")],
)
def test_a_section_that_is_none_is_refused_with_the_way_out(shop, naca, named):
    view = shop.get(f"/parts/{shop.part('Left wing, upper skin')}/shape")
    body = retyped(view, sections={2: {"naca": naca}})
    assert named in shop.refused("PATCH", f"/shapes/{view['shape_id']}", body)["detail"]


def test_a_polygon_of_a_few_points_is_taken_and_said_to_be_one(shop):
    view = shop.get(f"/parts/{shop.part('Left wing, upper skin')}/shape")
    points = "few\n1 0\n0.5 0.08\n0.1 0.06\n0 0\n0.1 -0.03\n0.5 -0.02\n1 0\n"
    body = retyped(view, sections={2: {"file": points}})
    saved = shop.ask("PATCH", f"/shapes/{view['shape_id']}", body)
    assert saved["note"] == "It has only 7 points, and is straight between them."


def test_who_looked_as_well_and_what_the_gauge_read_stand_on_the_sheet(shop):
    part = shop.part("Left wing, upper skin")
    sanna = next(p["id"] for p in shop.get("/people")["people"] if p["name"] == "Sanna")
    of = {"part_id": part, "step_key": "skin-1/layup"}

    def tick(key, item, **noted):
        return shop.ask("POST", "/ticks", {"ticks": [{"id": key, "item": item, **of, **noted}]}, 201)

    def noted():
        sheet = shop.get(f"/run-sheet?part_id={part}&step_key=skin-1/layup")
        return {item["key"]: item["noted"] for item in sheet["items"]}

    tick("a", "ply-1", second_id=sanna)
    tick("b", "vacuum", gauge={"text": "24,5 inHg", "unit": "mbar"})
    tick("c", "leak", gauge={"text": "820", "unit": "mbar"})
    assert noted()["ply-1"] == "Sanna looked as well"
    assert noted()["vacuum"] == "gauge 830 mbar"
    assert noted()["leak"] == "gauge 820 mbar, fallen by 10 mbar"
    tick("d", "leak", done=False)
    assert noted()["leak"] == ""
    tick("e", "leak", gauge={"text": "700", "unit": "mbar"})
    assert "fallen by 130 mbar: more than 34 mbar, find the leak" in noted()["leak"]
    too_much = {"id": "f", "item": "leak", **of, "gauge": {"text": "1500", "unit": "mbar"}}
    assert "gauge" in shop.refused("POST", "/ticks", {"ticks": [too_much]})["detail"]
    stranger = {"id": "g", "item": "ply-2", **of, "second_id": "nobody"}
    shop.ask("POST", "/ticks", {"ticks": [stranger]}, 404)

"""Readings held against what is asked, taps with a coin, and closings that hold until somebody else has looked."""

from datetime import timedelta

import pytest
from tests.conftest import MORNING, key_of

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.build.step_id import StepId
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.plan.plan import shop_plan

BO, IMRE, ODILE = (stable_id("crew", name) for name in ("Bo", "Imre", "Odile"))
SKIN, FLAP = "Left wing, lower skin", "Left flap, upper skin"
CLOSING = "Left wing, closing joint"


def mm(text):
    return {"text": str(text), "unit": "mm"}


def said(shop, part, status=200, **more):
    """A check of four rib bays, as its form sends it."""
    bays = [{"name": f"{n} to {n + 1}", "nominal": mm(400)} for n in range(1, 5)]
    body = {"id": "bays", "version": 0, "name": "Rib spacing", "kind": "spacing", "points": bays, "low": mm(-1),
            "high": mm(1), **more}  # fmt: skip
    return shop.ask("POST", f"/parts/{shop.part(part)}/checks", body, status)


def read(shop, part, *values, status=201, unit="mm", check="bays", **more):
    body = {"id": key_of(part, *map(str, values), str(more)), "check_id": check,
            "values": [{"text": str(value), "unit": unit} for value in values], **more}  # fmt: skip
    return shop.ask("POST", f"/parts/{shop.part(part)}/measured", body, status)


def check(shop, part):
    return shop.get(f"/parts/{shop.part(part)}/checks")["checks"][0]


def why_not(shop, part, step):
    """Why a step can't be planned; "" where it is."""
    return why_not_at(shop, StepId(shop.part(part), "", step).key)


def why_not_at(shop, key):
    with shop.store.reading() as uow:
        left = shop_plan(uow, minute_of(shop.clock.at)).plan.unplaced
    return next((one.why for one in left if one.step.key == key), "")


def in_shop(shop):
    """All steps of the shop, linked."""
    with shop.store.reading() as uow:
        return shop_plan(uow, minute_of(shop.clock.at)).input.steps


def test_a_row_of_bays_is_read_judged_and_its_sum_is_checked(shop):
    said(shop, SKIN)
    said(shop, SKIN)  # pressed twice
    read(shop, SKIN, 400.4, "399,6", 400, 402.5)
    found = check(shop, SKIN)
    (last,) = found["readings"]
    assert last["says"] == [
        "4 to 5: 402.5 mm, asked 400.0 mm: 2.5 mm too much.", "Together 1602.5 mm, asked 1600.0 mm.",
    ]  # fmt: skip
    assert [(value["off"], value["holds"]) for value in last["values"]][2:] == [("0.0 mm", True), ("+2.5 mm", False)]
    read(shop, SKIN, 400, 400, "", 400)
    found = check(shop, SKIN)
    assert (found["earlier"], found["readings"][0]["says"]) == (1, ["3 of 4 are read."])
    # The right wing is built like the left: the same check, with what the left found beside it.
    other = check(shop, "Right wing, lower skin")
    assert (other["readings"], [row["name"] for row in other["others"]], other["apart"]) == ([], [SKIN], "")
    read(shop, "Right wing, lower skin", 400, 399, 400, 401.5)
    assert check(shop, SKIN)["apart"].endswith("at 4 to 5, by 1.5 mm: 400.0 mm against 401.5 mm.")


@pytest.mark.parametrize(
    ("values", "says"),
    [
        ((400, 400, 400), "3 readings for 4 places; one for each is wanted"),
        ((400, 400, 400, 16), "4 to 5: 16.0 mm is about 25 times less than the 400.0 mm asked."),
        (("", "", "", ""), "nothing was read yet"),
        (("35 17/16", 400, 400, 400), "17/16 is more than a whole one"),
        ((400, 400, 400, "4 kg"), "“kg” is not a unit of length"),
        ((400, 400, 400, -3), "Spacing is -3 mm; it can't be below 0 mm"),
    ],
)
def test_an_odd_reading_is_questioned_by_its_place_and_nothing_is_kept(shop, values, says):
    said(shop, SKIN)
    problem = read(shop, SKIN, *values, status=422)
    assert says in problem["detail"]
    assert check(shop, SKIN)["readings"] == []


def test_what_looks_like_another_unit_is_kept_when_somebody_is_sure(shop):
    said(shop, SKIN)
    assert "Was it read in another unit?" in read(shop, SKIN, 400, 400, 400, 40, status=422)["detail"]
    read(shop, SKIN, 400, 400, 400, 40, sure=True)
    assert not check(shop, SKIN)["readings"][0]["holds"]


@pytest.mark.parametrize(
    ("more", "says"),
    [
        ({"low": mm(1), "high": mm(-1)}, "the tolerance goes from 1 to -1: its ends are swapped"),
        ({"points": []}, "0 places are given; a check has 1 to 60"),
        ({"points": [{"name": "a", "nominal": mm(1)}, {"name": "a", "nominal": mm(2)}]}, "two places are called “a”"),
        ({"reads": "twice"}, "it is read with a step; say which"),
        (
            {"reads": "each", "after_key": "skin-1/layup"},
            "“Lay and bag the outer skin” is no reading; say a step that is",
        ),
        ({"kind": "smell"}, "“smell” is nothing that is read"),
        ({"after_key": "nowhere"}, "“nowhere” is not a step of"),
        ({"name": " "}, "the name has 0 letters"),
    ],
)
def test_a_check_that_can_not_be_is_refused(shop, more, says):
    assert says in said(shop, SKIN, 422, **more)["detail"]


def test_twist_before_and_after_a_skin_says_what_moved_and_what_the_other_side_will_do(shop):
    def degrees(text):
        return {"text": str(text), "unit": "°"}

    stations = [{"name": name, "nominal": degrees(nominal), "at": {"text": str(at), "unit": "m"}}
                for name, nominal, at in (("root", 0, 0), ("mid", -1, 3.6), ("tip", -2, 7.2))]  # fmt: skip
    said(shop, SKIN, id="twist", kind="angle", points=stations, low=degrees(-0.25), high=degrees(0.25),
         after_key="skin-1/layup", reads="twice")  # fmt: skip
    assert (
        "is read before, after; “once” is not one of them"
        in read(shop, SKIN, 0, -1, -2, status=422, unit="°", check="twist")["detail"]
    )
    read(shop, SKIN, 0, -1, -2, unit="°", check="twist", moment="before")
    read(shop, SKIN, 0, "-0.8", "-1.6", unit="°", check="twist", moment="after", crew_member_id=IMRE)
    found = check(shop, SKIN)
    assert [one["moment"] for one in found["readings"]] == ["before", "after"]
    assert found["moved"].startswith("Tip has moved by 0.40°, from -2.00° to -1.60°. That is more than it may be off")
    assert "A like skin on the other side pulls back about as much" in found["moved"]
    # Off by 0, 0.2 and 0.4°: on one line, 0.4° in 7.2 m.
    assert "It twists 0.06° a metre; " in " ".join(found["readings"][1]["says"])


def test_out_of_tolerance_holds_what_follows_until_it_is_decided_by_name_and_reason(shop):
    said(shop, FLAP, after_key="skin-1/peel")
    held = next(step.key.partition(":")[2] for step in steps_after(shop, FLAP, "skin-1/peel"))
    assert why_not(shop, FLAP, held) == ""
    read(shop, FLAP, 400, 400, 400, 405)
    assert why_not(shop, FLAP, held) == "“Rib spacing” is out of tolerance: decide about it"
    reading = check(shop, FLAP)["readings"][0]["id"]
    path = f"/measured/{reading}/rulings"
    assert "say who decides" in shop.refused("POST", path, {"id": "r", "kind": "accept", "note": "fits"})["detail"]
    signed = {"crew_member_id": IMRE}
    assert "note is empty" in shop.refused("POST", path, {"id": "r", "kind": "accept", **signed})["detail"]
    shop.ask("POST", path, {"id": "r1", "kind": "mend", "note": "move the rib", **signed}, 201)
    assert why_not(shop, FLAP, held) == "“Rib spacing” is out of tolerance: mend it, then read it again"
    for _ in range(2):
        shop.ask("POST", path, {"id": "r2", "kind": "accept", "note": "the kit allows five", **signed}, 201)
    assert why_not(shop, FLAP, held) == ""
    assert "Accepted as it is, Imre" in check(shop, FLAP)["readings"][0]["decision"]
    read(shop, FLAP, 400, 400, 400, 406)
    assert why_not(shop, FLAP, held)
    again = check(shop, FLAP)["readings"][0]["id"]
    shop.ask("POST", "/taken-back", {"id": "tb", "what": "measured", "of_id": again}, 201)
    assert why_not(shop, FLAP, held) == ""
    # What was read keeps its places; put away it holds nothing.
    version = check(shop, FLAP)["version"]
    fewer = [{"name": "1 to 2", "nominal": mm(400)}]
    assert "was read already" in said(shop, FLAP, 422, version=version, points=fewer)["detail"]
    shop.ask("PATCH", "/checks/bays", {"version": version})
    assert shop.get(f"/parts/{shop.part(FLAP)}/checks")["away"] == [{"id": "bays", "name": "Rib spacing"}]


def steps_after(shop, part, key):
    with shop.store.reading() as uow:
        found = shop_plan(uow, minute_of(shop.clock.at)).parts[shop.part(part)]
    after = StepId(found.id, "", key).key
    return [step for step in found.in_shop if any(link.step == after for link in step.after)]


def test_a_joint_is_tapped_decided_injected_and_tapped_again_and_both_are_kept(shop):
    part = shop.part(CLOSING)
    path, grid = f"/parts/{part}/taps", shop.get(f"/parts/{part}/taps")
    assert (grid["along"], grid["across"], grid["every"], grid["least"]) == (60, 1, "253 mm", "95 %")
    size = {"along": grid["along"], "across": grid["across"]}
    beside = shop.refused("POST", path, {"id": "t", **size, "voids": [[60, 0]]})
    assert "a void is marked at 61, 1; the joint has 60 × 1 places" in beside["detail"]
    voids = [[n, 0] for n in (3, 4, 5, 20)]
    for _ in range(2):
        shop.ask("POST", path, {"id": "t1", **size, "voids": voids, "crew_member_id": ODILE}, 201)
    (tap,) = shop.get(path)["taps"]
    assert (tap["holds"], tap["pct"]) == (False, pytest.approx(100 * 56 / 60))
    assert "93 % holds, the longest void is about 760 mm long; at least 95 % is wanted." in tap["words"]
    assert [(row["tab"], row["words"]) for row in shop.get("/today")["decide"]] == [
        ("joint", "Left wing, closing joint: Coin tap. 93 % holds; at least 95 % is wanted.")
    ]
    follows = next(step for step in in_shop(shop) if f"{part}:look" in {link.step for link in step.after})
    assert why_not_at(shop, follows.key) == "“Coin tap” is out of tolerance: decide about it"
    assert "say who" in shop.refused("POST", "/taps/t1/rulings", {"id": "r", "kind": "inject"})["detail"]
    shop.ask("POST", "/taps/t1/rulings", {"id": "r", "kind": "inject", "crew_member_id": BO, "note": "two holes"}, 201)
    shop.clock.at = MORNING + timedelta(hours=3)
    shop.ask("POST", path, {"id": "t2", **size, "voids": [[20, 0]]}, 201)
    assert shop.get("/today")["decide"] == []
    assert "out of tolerance" not in why_not_at(shop, follows.key)
    last, before = shop.get(path)["taps"]
    assert (last["holds"], before["decided"]) == (True, "inject")
    skin = shop.part(SKIN)
    assert "no joint" in shop.refused("POST", f"/parts/{skin}/taps", {"id": "t3", **size})["detail"]


def gate(shop):
    return shop.get(f"/gate?part_id={shop.part(CLOSING)}&step_key=bond")


def at_gate(shop, kind, status=201, **more):
    body = {"id": key_of(kind, str(more)), "part_id": shop.part(CLOSING), "step_key": "bond", "kind": kind, **more}
    return shop.ask("POST", "/gate/notes", body, status)


def test_a_closing_gathers_its_list_and_holds_until_another_person_has_looked(shop):
    (card,) = shop.get("/gates")["gates"]
    # Filling and fairing follows, and asks for smooth edges before.
    assert (card["state"], card["lines"], card["more"]) == ("open", 5, 1)
    assert gate(shop)["lines"][4]["words"] == "Edges and beads smooth enough for cloth and paint"
    assert card["shuts_in"] == [f"Left wing, {name}" for name in ("upper skin", "lower skin", "aft ribs", "spar cap")]
    work = {"part_id": shop.part(CLOSING), "step_key": "bond", "kind": "start", "crew": []}
    closed = shop.refused("POST", "/work", {"id": "w", "note": "in a hurry", **work})["detail"]
    assert "closes it, and 5 of 5 lines before it are open: first “Left wing, upper skin" in closed
    # The shop's own list, and what was regretted last time.
    lines = ["Edges and beads smooth enough for cloth and paint", "Cables pulled once"]
    body = {"id": "list", "version": 0, "name": "Wings", "lines": lines}
    shop.ask("POST", "/gate-lists", body)
    shop.ask("POST", "/gate-lists", {**body, "version": 1, "lines": [*lines, "Pitot string in"]})
    assert "has 0 lines" in shop.refused("POST", "/gate-lists", {**body, "version": 2, "lines": [" "]})["detail"]
    at_gate(shop, "list", note="list")
    at_gate(shop, "add", note="The bead at rib 3 smoothed")
    view = gate(shop)
    assert [line["words"] for line in view["lines"]][4:] == [*lines, "Pitot string in", "The bead at rib 3 smoothed"]
    own = [line["key"] for line in view["lines"] if not line["of_itself"]]
    by_itself = view["lines"][0]["key"]
    assert "done when the logbook says so" in at_gate(shop, "done", 422, line=by_itself, crew_member_id=BO)["detail"]
    assert "say who" in at_gate(shop, "done", 422, line=own[0])["detail"]
    assert "why" in at_gate(shop, "not needed", 422, line=own[0], crew_member_id=BO)["detail"]
    for line in own:
        at_gate(shop, "done", line=line, crew_member_id=BO)
    assert "4 of 8 lines are open" in at_gate(shop, "sign", 422, crew_member_id=IMRE)["detail"]
    for line in view["lines"][:4]:
        at_gate(shop, "not needed", line=line["key"], crew_member_id=ODILE, note="seen on the bench")
    assert gate(shop)["state"] == "ready to sign"
    # Bo looks at what Odile said; his own four lines are for somebody else, whoever often he signs.
    at_gate(shop, "sign", crew_member_id=BO)
    assert (gate(shop)["state"], gate(shop)["sentence"]) == (
        "ready to sign", "Bo looked at 4 of 8 lines; 4 lines are left for somebody else than Bo.",
    )  # fmt: skip
    assert gate(shop)["lines"][0]["sentence"].endswith("seen on the bench; Bo has looked")
    again = at_gate(shop, "sign", 422, crew_member_id=BO, note="once more")["detail"]
    assert "somebody else than who did the work" in again
    refused = shop.refused("POST", "/work", {"id": "w", "note": "in a hurry", **work})["detail"]
    assert "nobody has looked and signed yet" in refused
    at_gate(shop, "sign", crew_member_id=IMRE)
    assert gate(shop)["sentence"] == "Imre looked and signed, 09:20. It may be closed."
    assert "it is signed already" in at_gate(shop, "sign", 422, crew_member_id=stable_id("crew", "Sanna"))["detail"]
    assert "is signed; open the closing" in at_gate(shop, "open", 422, line=own[0])["detail"]
    assert "who opens it again" in at_gate(shop, "reopen", 422, note="")["detail"]
    at_gate(shop, "reopen", note="forgot the antenna", crew_member_id=IMRE)
    shop.clock.at += timedelta(minutes=5)
    assert (gate(shop)["state"], gate(shop)["trail"][-1]) == (
        "ready to sign", "Opened again, Imre, Thu 14 May 09:20: forgot the antenna",
    )  # fmt: skip
    at_gate(shop, "sign", crew_member_id=IMRE, note="again")
    # An inspector who was asked for holds it until it is seen.
    assert "say for which day" in at_gate(shop, "asked", 422, note="the wing open")["detail"]
    assert "it can't be below -1 days" in at_gate(shop, "asked", 422, note="the wing open", day="2026-04-28")["detail"]
    at_gate(shop, "asked", note="the wing open", day="2026-06-25")
    assert (gate(shop)["state"], gate(shop)["asked"]) == ("inspector", "Thu 25 Jun, the wing open")
    assert "It waits for the inspector." in gate(shop)["sentence"]
    assert shop.get("/gates")["gates"][0]["when"].startswith("Thu 25 Jun")
    refused = shop.refused("POST", "/work", {"id": "w", "note": "in a hurry", **work})["detail"]
    assert "the inspector who was asked for has not seen it yet" in refused
    at_gate(shop, "seen", note="A. Inspector, on page 12")
    assert gate(shop)["seen"] == "A. Inspector, on page 12"
    # Signed, it is closed; what is shut is not opened again on paper.
    for kind in ("start", "finish"):
        shop.ask("POST", "/work", {"id": f"w-{kind}", **work, "kind": kind, "note": "the rest is ready"}, 201)
        shop.clock.at += timedelta(minutes=40)
    assert "what closes it is on" in at_gate(shop, "reopen", 422, note="late", crew_member_id=IMRE)["detail"]
    assert shop.get("/gates")["gates"][0]["state"] == "closed"


def test_who_is_in_the_logbook_of_a_line_does_not_look_at_it(shop):
    ribs = shop.part("Left wing, aft ribs")
    todo = [step["key"] for step in shop.get(f"/parts/{ribs}/times")["steps"] if step["state"] != "done"]
    shop.release(ribs, "coat-1/brush")
    for n, key in enumerate(todo):
        for kind in ("start", "finish"):
            shop.clock.at += timedelta(minutes=10)
            work = {"id": f"{kind}{n}", "part_id": ribs, "step_key": key, "kind": kind, "crew": [BO, ODILE]}
            shop.ask("POST", "/work", work, 201)
    lines = gate(shop)["lines"]
    done = [line for line in lines if line["words"].startswith("Left wing, aft ribs") and line["state"] == "done"]
    assert done
    assert all("Bo" in line["sentence"] and "Odile" in line["sentence"] for line in done)
    for line in lines:
        if line["state"] == "open":
            at_gate(shop, "not needed", line=line["key"], crew_member_id=IMRE, note="elsewhere")
    at_gate(shop, "sign", crew_member_id=ODILE)
    assert f"{len(done)} line" in gate(shop)["sentence"].replace("one line", "1 line")
    assert "left for somebody else than" in gate(shop)["sentence"]
    assert gate(shop)["state"] == "ready to sign"


def test_lines_of_a_list_have_their_hours_in_the_plan_before_the_closing(shop):
    def before():
        with shop.store.reading() as uow:
            plan = shop_plan(uow, minute_of(shop.clock.at)).plan
        placed = plan.by_key[f"{shop.part(CLOSING)}:bond"]
        return placed, plan.by_key.get(f"{shop.part(CLOSING)}:bond@list")

    assert before()[1].step.minutes == 10  # smooth edges, for the fairing that follows
    hours = shop.get("/gates")["gates"][0]["hours"]
    at_gate(shop, "add", note="The pitot line fished and pulled, 2 h 30 min")
    at_gate(shop, "add", note="Swept out")
    assert "it can't be above 6000 min" in at_gate(shop, "add", 422, note="All of it, 900 h")["detail"]
    closing, listed = before()
    assert (listed.step.name, listed.step.minutes) == ("What is on its list: 3 lines", 170)
    assert closing.begins >= listed.end
    assert shop.get("/gates")["gates"][0]["hours"] != hours
    line = gate(shop)["lines"][-2]["key"]
    at_gate(shop, "done", line=line, crew_member_id=BO)
    assert before()[1].step.minutes == 20
    steps = shop.get(f"/parts/{shop.part(CLOSING)}/times")["steps"]
    row = next(step for step in steps if step["key"] == "bond@list")
    assert row["name"] == "What is on its list: 2 lines"
    work = {"id": "w", "part_id": shop.part(CLOSING), "step_key": "bond@list", "kind": "start", "crew": []}
    assert "is not a step" in shop.refused("POST", "/work", work)["detail"]


def test_what_was_done_before_a_closing_has_its_photographs(shop):
    at_gate(shop, "add", note="Cables in")
    line = gate(shop)["lines"][-1]["key"]
    at_gate(shop, "done", line=line, crew_member_id=BO)
    note = gate(shop)["lines"][-1]["note_id"]
    sent = shop.client.put(f"/api/v1/gate-notes/{note}/photos/p1", data=b"no picture", content_type="image/png")
    assert "no photograph" in sent.json["detail"]
    kept = shop.client.put(f"/api/v1/gate-notes/{note}/photos/p1", data=picture(), content_type="image/png")
    assert kept.status_code == 201
    assert gate(shop)["lines"][-1]["photos"] == ["p1"]


def picture():
    import io

    from PIL import Image

    out = io.BytesIO()
    Image.new("RGB", (4, 4)).save(out, "PNG")
    return out.getvalue()


def test_a_gauge_that_reads_more_than_the_air_presses_at_this_height_is_questioned(shop):
    version = shop.get("/shop")["version"]
    high = {"scale_unit": "g", "above_sea": {"text": "1500", "unit": "m"}}
    far = {**high, "above_sea": {"text": "9000", "unit": "m"}}
    refused = shop.refused("PATCH", "/shop", {"version": version, "bench": far})
    assert "the height above the sea is 9000 m; it can't be above 6000 m" in refused["detail"]
    shop.ask("PATCH", "/shop", {"version": version, "bench": high})
    assert shop.get("/shop")["above_sea"] == "1500.0 m"
    part = shop.part(SKIN)
    tick = {
        "id": "v",
        "part_id": part,
        "step_key": "skin-2/layup",
        "item": "vacuum",
        "gauge": {"text": "950", "unit": "mbar"},
    }
    shop.ask("POST", "/ticks", {"ticks": [tick]}, 201)
    sheet = shop.get(f"/run-sheet?part_id={part}&step_key=skin-2/layup")
    noted = next(item["noted"] for item in sheet["items"] if item["key"] == "vacuum")
    assert noted == "gauge 950 mbar; more than the 846 mbar there can be at this height: is the gauge right?"

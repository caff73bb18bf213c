"""Joints of a wing: what they tie, how their faces are, what the dry fit showed, and the order they are made in."""

import io
from datetime import timedelta

import pypdf
import pytest
from tests.conftest import MORNING, key_of

from kiteloom.core.base.calendar import minute_of
from kiteloom.demo.nose import JOINTS, found_nose, glued_so_far
from kiteloom.demo.week import Week
from kiteloom.workshop.plan.plan import shop_plan

TUBE_IN, TUBE_OUT = "Left tube in the inner bracket", "Left tube in the outer bracket"
BUSH, ARM, RIB_1 = "Left bush in rib 1", "Left hinge arm on rib 3", "Left rib 1 on the spar"


@pytest.fixture
def nose(shop):
    """The ribs, tube and fittings of the left nose, founded in the shop."""
    with shop.store.writing() as uow:
        found_nose(uow, MORNING)
    with shop.store.writing() as uow:
        glued_so_far(Week(uow, MORNING, cups=100))
    return shop


def joint(shop, name):
    return shop.get(f"/parts/{shop.part(name)}/joint")


def order_of(shop):
    return shop.get(f"/airframes/{shop.get('/airframe')['id']}/joints")


def said(view, **more):
    """A joint as its page sends it, with something changed."""
    faces = [{name: face[name] for name in ("part_id", "where", "fixes")} for face in view["faces"]]
    kept = {name: view[name] for name in ("version", "loose", "located", "after", "shuts")}
    return {**kept, "faces": faces, **more}


def say(shop, name, status=200, **more):
    view = joint(shop, name)
    return shop.ask("POST", f"/parts/{view['part_id']}/joint", said(view, **more), status)


def tick(shop, name, *items, at=MORNING, done=True, **noted):
    part = shop.part(name)
    ticks = [
        {"id": key_of(name, item, str(at), str(done)), "part_id": part, "step_key": "prepare", "item": item,
         "done": done, "happened_at": at.isoformat(), **noted}
        for item in items
    ]  # fmt: skip
    shop.ask("POST", "/ticks", {"ticks": ticks}, 201)


def placed(shop, name, step):
    """A step of a joint as it is planned."""
    with shop.store.reading() as uow:
        return shop_plan(uow, minute_of(shop.clock.at)).plan.by_key[f"{shop.part(name)}:{step}"]


def test_sixteen_joints_have_eleven_safe_stops_and_say_why_each_comes_when_it_does(nose):
    view = order_of(nose)
    names = [knot["name"] for knot in view["knots"]]
    assert (len(names), sum(knot["stop"] for knot in view["knots"])) == (len(JOINTS), 11)
    assert view["sentence"] == "16 joints, 11 safe stops; at most 3 from one stop to the next, and no order has fewer."
    assert names.index(TUBE_OUT) == names.index(TUBE_IN) + 1
    assert names.index(RIB_1) > names.index(TUBE_IN)
    because = {knot["name"]: knot["why"] for knot in view["knots"]}
    assert because[RIB_1] == (
        "Left tube in the inner bracket needs Left nose rib 1 loose, Left rib 1 on the spar fixes it"
    )
    tube = next(thread for thread in view["threads"] if thread["name"] == "Left drag tube")
    assert (names[tube["first"]], names[tube["last"]]) == (TUBE_IN, TUBE_OUT)
    assert [choice["name"] for choice in view["unsaid"]] == ["Left wing, closing joint"]
    assert joint(nose, TUBE_OUT)["turn"] == {
        "number": names.index(TUBE_OUT) + 1, "of": 16, "why": because[TUBE_OUT], "stop": True,
    }  # fmt: skip


def test_the_plan_makes_joints_in_their_order_and_works_those_between_two_stops_with_one_mix(nose):
    knots = order_of(nose)["knots"]
    first, then = (placed(nose, name, "bond") for name in (TUBE_IN, TUBE_OUT))
    # Laid ready and mixed once: the second takes less, and is done while the cup lives.
    assert (first.step.length, then.step.length) == (35, 15)
    assert first.end <= then.begins <= first.begins + 60
    assert placed(nose, RIB_1, "bond").begins > then.end
    assert [knot["state"] for knot in knots[:3]] == ["done", "ahead", "done"]


@pytest.mark.parametrize(
    ("more", "says"),
    [
        ({"faces": []}, "0 faces are given; a joint has 2"),
        ({"loose": ["nowhere"]}, "that part is not there (any more) on this airframe"),
        ({"shuts": "rib"}, "Left nose rib 1 is no joint"),
        ({"located": "bush part"}, "no other joint fixes Left rib bush"),
        ({"loose": "rib", "located": "rib"}, "Left nose rib 1 can't be loose and located at once"),
        ({"after": "itself"}, "Left bush in rib 1 is this joint itself"),
        ({"shuts": "rib 1 on the spar"}, "Left rib 1 on the spar and Left bush in rib 1 contradict each other: "),
        ({"fasteners": {"diameter_mm": "3.2"}}, "not given yet: Kind, Through, Thickness of one side"),
        ({"fasteners": {"diameter_mm": "80"}}, "Diameter is 80 mm; it can't be above 20 mm"),
    ],
)
def test_what_a_joint_can_not_tie_is_refused_and_named(nose, more, says):
    ids = {"rib": "Left nose rib 1", "bush part": "Left rib bush", "itself": BUSH, "rib 1 on the spar": RIB_1}
    typed = {name: [nose.part(ids[said])] if isinstance(said, str) else said for name, said in more.items()}
    view = joint(nose, BUSH)
    problem = nose.refused("POST", f"/parts/{view['part_id']}/joint", said(view, **typed))
    assert says in problem["detail"]


def test_a_joint_of_a_part_with_itself_and_a_stale_save_are_refused(nose):
    view = joint(nose, BUSH)
    path = f"/parts/{view['part_id']}/joint"
    rib = view["faces"][0]["part_id"]
    twice = [{"part_id": rib}, {"part_id": rib}]
    problem = nose.refused("POST", path, said(view, faces=twice))
    assert problem["detail"].endswith("both faces are of Left nose rib 1; a joint ties two parts, not one with itself")
    neither = [{**face, "fixes": False} for face in said(view)["faces"]]
    assert "fixes neither of the two" in nose.refused("POST", path, said(view, faces=neither))["detail"]
    skin = nose.part("Left wing, upper skin")
    assert "no bonding job" in nose.refused("POST", f"/parts/{skin}/joint", said(view))["detail"]
    say(nose, BUSH, loose=[])
    assert nose.ask("POST", path, said(view), 409)["version"] == view["version"] + 1


def test_a_face_that_was_ready_yesterday_is_bare_today_and_the_plan_makes_it_ready_again(nose):
    view = joint(nose, BUSH)
    wood, metal = view["faces"]
    assert (wood["state"], metal["state"]) == ("expired", "bare")
    assert wood["sentence"].startswith("Expired: it was ready until Wed 13 May 23:15; first: plane or cut")
    again, bond = (placed(nose, BUSH, step) for step in ("prepare", "bond"))
    assert (again.state, bond.state, again.end <= bond.begins) == ("to do", "to do", True)
    part = view["part_id"]
    work = {"part_id": part, "step_key": "bond", "crew": []}
    problem = nose.refused("POST", "/work", {"id": "w1", "kind": "start", **work})
    assert "Left nose rib 1 is expired: it was ready until Wed 13 May 23:15" in problem["detail"]
    # In order: abraded before it is degreased does not count.
    tick(nose, BUSH, "other/abrade")
    assert "It was abraded before it was washed: that does not count" in joint(nose, BUSH)["faces"][1]["sentence"]
    tick(nose, BUSH, "one/cut", "other/degrease", at=MORNING + timedelta(seconds=1))
    assert [face["state"] for face in joint(nose, BUSH)["faces"]] == ["under way", "under way"]
    for n, item in enumerate(("one/dust", "other/abrade", "other/wipe"), 2):
        nose.clock.at = MORNING + timedelta(minutes=n)
        tick(nose, BUSH, item, at=nose.clock.at)
    wood, metal = joint(nose, BUSH)["faces"]
    assert metal["sentence"] == "Ready until 11:24."
    assert "next: read its moisture" in wood["sentence"]
    tick(nose, BUSH, "one/moisture", at=nose.clock.at, moisture={"text": "14,5", "unit": "%"})
    tick(nose, BUSH, "one/dust", at=nose.clock.at + timedelta(seconds=1))
    view = joint(nose, BUSH)
    assert (view["faces"][0]["state"], view["faces"][0]["moisture"]) == ("ready", "14.5 %")
    assert view["moisture"] == "Moisture is 14.5 %; wood is glued at 8 to 12 %: dry it first."
    # What somebody touched is not ready, whatever the clock says; taking the tick back makes it so again.
    touched = nose.clock.at + timedelta(minutes=1)
    nose.clock.at = touched
    tick(nose, BUSH, "other/touched", at=touched)
    assert joint(nose, BUSH)["faces"][1]["sentence"] == "Contaminated; first: degrease it."
    tick(nose, BUSH, "other/touched", at=touched, done=False)
    assert joint(nose, BUSH)["faces"][1]["state"] == "ready"
    nose.ask("POST", "/work", {"id": "w2", "kind": "start", **work, "note": ""}, 201)


def test_an_odd_moisture_is_refused_and_a_run_sheet_shows_only_what_still_holds(nose):
    part = nose.part(BUSH)
    bad = {"id": "t", "part_id": part, "step_key": "prepare", "item": "one/moisture"}
    problem = nose.refused("POST", "/ticks", {"ticks": [{**bad, "moisture": {"text": "70", "unit": "%"}}]})
    assert problem["detail"] == "the moisture is 70 %; it can't be above 60 %"
    sheet = nose.get(f"/run-sheet?part_id={part}&step_key=prepare")
    assert [item["words"] for item in sheet["items"]][:2] == [
        "Left nose rib 1, wood: plane or cut a fresh face, plywood sanded lightly",
        "Left nose rib 1, wood: read its moisture: 8 to 12 % and alike on both sides",
    ]
    assert not any(item["done_at"] for item in sheet["items"])  # yesterday's ticks count no more


def test_what_the_dry_fit_shows_is_mixed_for_and_what_is_too_wide_is_said(nose):
    part = nose.part("Left rib 2 on the spar")
    path, before = f"/parts/{part}/dry-fits", joint(nose, "Left rib 2 on the spar")
    figures = {figure["key"]: figure["value"] for figure in before["figures"]}
    assert (before["fit"], before["gaps"]) == ("", [])

    def gap(at, wide):
        return {"at": {"text": at, "unit": "m"}, "gap": {"text": wide, "unit": "mm"}}

    far = nose.refused("POST", path, {"id": "f", "gaps": [gap("0.5", "1")]})
    assert "along the joint, is 0.5 m; it can't be above 0.29 m" in far["detail"]
    assert "50 mm" in nose.refused("POST", path, {"id": "f", "gaps": [gap("0.1", "60")]})["detail"]
    twice = nose.refused("POST", path, {"id": "f", "gaps": [gap("0.1", "1"), gap("100 mm", "2")]})
    assert "two gaps are at 0.1 m" in twice["detail"]
    for _ in range(2):
        nose.ask("POST", path, {"id": "fit", "gaps": [gap("29 cm", "3.5"), gap("0", "0.5")]}, 201)
    view = joint(nose, "Left rib 2 on the spar")
    assert [row["gap"] for row in view["gaps"]] == ["0.50 mm", "3.50 mm"]
    assert (view["fits"], [row["wide"] for row in view["gaps"]]) == (False, [False, True])
    assert "Too wide for Heron 30 paste at 0.290 m: it fills 3.00 mm" in view["fit"]
    wider = {figure["key"]: figure["value"] for figure in view["figures"]}
    # From 0.5 to 3.5 mm: four times what a line of 0.5 mm holds.
    assert wider["glue_line"] == pytest.approx(4 * figures["glue_line"])
    assert wider["gap"] == pytest.approx(3 * figures["glue_line"])
    assert wider["mix"] - figures["mix"] == pytest.approx(1.5 * wider["gap"] / 0.95)
    nose.ask("POST", path, {"id": "again", "gaps": []}, 201)
    assert "closes as it was planned" in joint(nose, "Left rib 2 on the spar")["fit"]


def test_a_row_of_fasteners_is_laid_out_checked_and_printed_at_full_size(nose):
    view = joint(nose, ARM)
    assert view["fasteners"]["says"][0] == "6 in a row, 32.16 mm apart, the first 9.60 mm from the end."
    assert "A washer behind each" in view["fasteners"]["says"][3]
    pages = pypdf.PdfReader(io.BytesIO(nose.client.get(f"/api/v1/parts/{view['part_id']}/fasteners.pdf").data)).pages
    text = "\n".join(page.extract_text() for page in pages)
    assert all(f"{9.6 + 32.16 * n:.2f} mm" in text for n in range(6))
    tight = {field["field"]: field["text"] for field in view["fasteners"]["fields"]} | {
        "edge_mm": "5",
        "length_mm": "8",
    }
    say(nose, ARM, fasteners=tight)
    assert [check["words"] for check in joint(nose, ARM)["fasteners"]["checks"] if not check["holds"]] == [
        "5 mm to the edge: under the least, 9.6 mm", "8 mm long: shorter than its grip, 9 mm",
    ]  # fmt: skip
    nose.ask("PATCH", "/shop", {"version": nose.get("/shop")["version"], "units": "us"})
    assert joint(nose, ARM)["fasteners"]["says"][0].startswith("6 in a row, 1 5/16 in apart")
    say(nose, ARM, fasteners={})
    assert not joint(nose, ARM)["fasteners"]["given"]
    assert nose.client.get(f"/api/v1/parts/{view['part_id']}/fasteners.pdf").status_code == 422


def test_a_hole_that_can_not_be_seen_is_found_by_two_measures_or_by_the_pitch(nose):
    def look(status=200, **typed):
        steps = typed.pop("steps", 1)
        body = {name: {"text": text, "unit": "mm"} for name, text in typed.items() if name != "by"}
        return nose.ask("POST", "/hidden-hole/look", {"by": typed["by"], "steps": steps, **body}, status)

    found = look(by="two measures", hole="4.8", apart="500", one="300", other="400")
    assert found["says"][0] == "It is 180.00 mm along from the first point, 240.00 mm across, and may be 0.71 mm off."
    assert "Pilot no larger than 3 mm" in found["says"][1]
    far = look(by="pitch", hole="3.2", apart="40", steps=9)
    assert (far["holds"], far["off_mm"]) == (False, pytest.approx(1.4))
    assert "meet nowhere" in look(422, by="two measures", hole="4", apart="500", one="100", other="200")["detail"]
    assert look(422, by="two measures", hole="4", apart="500", one="", other="9")["errors"][0]["field"] == "one"

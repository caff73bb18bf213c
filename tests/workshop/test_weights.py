"""Parts weighed, airframes in balance, control surfaces read on their hinge: kept, questioned, taken back."""

from datetime import timedelta

import pytest

G = {"unit": "g"}


def weigh(shop, part, grams, moment="after", key="w1", job="", status=201, **more):
    order = {"id": key, "job": job, "moment": moment, "weighs": {"text": str(grams), "unit": "g"}, **more}
    return shop.ask("POST", f"/parts/{part}/weighings", order, status)


def test_a_part_is_weighed_the_difference_explained_and_taken_back(shop, left_upper):
    before = shop.get(f"/parts/{left_upper}/weight")
    job = before["jobs"][0]
    computed = job["total"]["value"]
    assert computed == pytest.approx(sum(figure["value"] for figure in job["figures"]))
    assert before["now"]["value"] == 0
    assert before["whole"]["value"] == pytest.approx(computed)
    for _ in range(2):
        weigh(shop, left_upper, computed * 1.2, note="on the large scale")
    after = shop.get(f"/parts/{left_upper}/weight")
    assert after["whole"]["value"] == pytest.approx(computed * 1.2)
    assert after["band"] == ""
    assert "Wet: " in after["jobs"][0]["says"]
    assert not after["jobs"][0]["holds"]
    assert 20 < after["jobs"][0]["fibre"]["value"] < 58
    assert "on the large scale" in after["jobs"][0]["weighed"][0]["words"]
    weigh(shop, left_upper, computed, key="w2")  # weighed again: the last one counts
    assert "as computed" in shop.get(f"/parts/{left_upper}/weight")["jobs"][0]["says"]
    for key in ("w2", "w1"):
        shop.ask("POST", "/taken-back", {"id": f"back-{key}", "what": "weighing", "of_id": key}, 201)
    assert shop.get(f"/parts/{left_upper}/weight")["jobs"] == before["jobs"]


def test_a_weight_in_the_wrong_unit_is_asked_about_and_kept_only_when_somebody_is_sure(shop, left_upper):
    computed = shop.get(f"/parts/{left_upper}/weight")["jobs"][0]["total"]["value"]
    problem = weigh(shop, left_upper, computed * 12, status=422)
    assert problem["errors"][0]["field"] == "sure"
    assert "12 times what is computed" in problem["detail"]
    weigh(shop, left_upper, computed * 12, sure=True)
    assert shop.get(f"/parts/{left_upper}/weight")["now"]["value"] == pytest.approx(computed * 12)


@pytest.mark.parametrize(("typed", "says"), [("-5", "can't be below"), ("0", "must be above 0 g"), ("some", "isn't")])
def test_what_is_no_weight_is_refused_by_field(shop, left_upper, typed, says):
    order = {"id": "w", "job": "", "moment": "after", "weighs": {"text": typed, "unit": "g"}}
    problem = shop.refused("POST", f"/parts/{left_upper}/weighings", order)
    assert problem["errors"][0]["field"] == "weighs"
    assert says in problem["detail"] or "above" in problem["detail"]
    order = {**order, "weighs": {"text": "5", "unit": "g"}, "job": "j9"}
    assert "has no job “j9”" in shop.refused("POST", f"/parts/{left_upper}/weighings", order)["detail"]


def test_an_airframe_has_its_parts_what_it_carries_and_its_limits(shop, left_upper):
    airframe = shop.get("/airframe")["id"]
    path = f"/airframes/{airframe}"
    found = shop.get(f"{path}/weights")
    assert [stage["name"] for stage in found["stages"]] == ["What is on it now", "When all is done"]
    assert any(left_upper == part["id"] for part in found["parts"])

    arm = {"version": shop.get(f"/parts/{left_upper}")["version"], "arm": {"text": "2.4", "unit": "m"}}
    shop.ask("PATCH", f"/parts/{left_upper}/arm", arm)
    engine = {"id": "i1", "version": 0, "name": "Engine", "weighs": {"text": "60", "unit": "kg"}}
    engine["aft"] = {"text": "400 mm", "unit": "m"}
    for _ in range(2):
        shop.ask("PUT", f"{path}/items", engine)
    shop.ask("PUT", f"{path}/items", {**engine, "id": "i2", "name": "Crew", "load": True})
    limits = {"version": found["version"], "texts": {"fore_m": "2", "aft_m": "2.4", "most_g": "500 kg"}}
    shop.ask("PATCH", f"{path}/limits", limits)
    found = shop.get(f"{path}/weights")
    mine = next(part for part in found["parts"] if part["id"] == left_upper)
    assert mine["arm"]["value"] == 2.4
    assert mine["moment_kg_m"] == pytest.approx(2.4 * mine["whole"]["value"] / 1000)
    assert [item["name"] for item in found["items"]] == ["Engine", "Crew"]
    done, loaded = found["stages"][1:]
    assert loaded["weighs"]["value"] == pytest.approx(done["weighs"]["value"] + 60_000)
    assert [says["holds"] for says in done["says"]] == [False, True]
    assert "ahead of the forward limit" in done["says"][0]["words"]
    assert any("No place yet" in words for words in found["lacks"])

    problem = shop.refused("PATCH", f"{path}/limits", {"version": found["version"], "texts": {"aft_m": "1.5"}})
    assert problem["errors"][0] == {"field": "aft_m", "sentence": "the aft limit must lie behind the forward one"}
    wrong = {**engine, "id": "i3", "weighs": {"text": "-1", "unit": "kg"}}
    assert shop.refused("PUT", f"{path}/items", wrong)["errors"][0]["field"] == "weighs"
    shop.ask("PUT", f"{path}/items", {**engine, "version": 1, "hidden": True})
    assert [item["name"] for item in shop.get(f"{path}/weights")["items"]] == ["Crew"]


def test_a_control_surface_is_balanced_before_its_gate_opens_and_repainted_means_read_again(shop, left_upper):
    part = left_upper
    shop.ask("POST", f"/parts/{part}/jobs", {"id": "jbal", "recipe": "balance", "only_here": True}, 201)
    keys = [step["key"] for step in shop.get(f"/parts/{part}/times")["steps"]]
    gate = next(key for key in keys if key.endswith(":balance"))
    version = shop.get(f"/parts/{part}/weight")["hinge"]["version"]
    half = {"version": version, "texts": {"root_m": "60"}}
    assert "not given yet: The same at the tip" in shop.refused("PATCH", f"/parts/{part}/hinge", half)["detail"]
    reading = {"id": "r0", "reads": {"text": "100", **G}, "arm": {"text": "200", "unit": "mm"}}
    assert "hinge line is not given yet" in shop.refused("POST", f"/parts/{part}/hinge-readings", reading)["detail"]

    finish = {"part_id": part, "step_key": gate, "kind": "finish", "crew": []}
    said = shop.ask("POST", "/work", {**finish, "id": "f0"}, 422)["detail"]
    assert "its hinge line is not given yet" in said
    texts = {"root_m": "60", "tip_m": "50", "ahead_m": "40", "wanted_pct": "100"}
    shop.ask("PATCH", f"/parts/{part}/hinge", {"version": version, "texts": texts})
    assert "was not read on its hinge yet" in shop.ask("POST", "/work", {**finish, "id": "f1"}, 422)["detail"]
    shop.ask("POST", f"/parts/{part}/hinge-readings", {**reading, "id": "r1"}, 201)
    hinge = shop.get(f"/parts/{part}/weight")["hinge"]
    assert hinge["readings"][0]["says"] == "Balanced by 0 %, 100 % is wanted: 500 g at its place ahead of the hinge."
    assert {figure["key"] for figure in hinge["figures"]} == {"behind", "hinge_moment", "balance"}
    assert "500 g at its place" in shop.ask("POST", "/work", {**finish, "id": "f2"}, 422)["detail"]
    assert any("500 g" in words for words in shop.get(f"/parts/{part}")["care"])

    level = {**reading, "id": "r2", "reads": {"text": "0", **G}, "mounted": {"text": "510", **G}}
    shop.ask("POST", f"/parts/{part}/hinge-readings", level, 201)
    assert shop.get(f"/parts/{part}")["care"] == []
    shop.ask("POST", "/work", {**finish, "id": "f3"}, 201)

    # Later something that weighs is put on.
    shop.clock.at += timedelta(hours=2)
    done = {"part_id": part, "step_key": "skin-1/layup", "kind": "finish", "crew": [], "id": "late"}
    shop.ask("POST", "/work", done, 201)
    assert any("put weight on: read it again" in words for words in shop.get(f"/parts/{part}")["care"])
    shop.ask("POST", f"/parts/{part}/hinge-readings", {**level, "id": "r3", "heavy": "nose"}, 201)
    assert shop.get(f"/parts/{part}")["care"] == []

"""Cut plans: laid out apart, stopped, out of date, cut, and what is left over used by the next."""

import io
import threading
import time

import pypdf
import pytest

from kiteloom.core.base.problems import Refused
from kiteloom.workshop.base.worker import WAITING, Search, Worker


def counting(start, pause):
    """A search for the tests: the numbers from a start, one after another."""
    while True:
        time.sleep(pause)
        start += 1
        yield start


def failing(_):
    yield 1
    raise RuntimeError("no such shape")


class Heard:
    """What a search told, and when it ended."""

    def __init__(self, key, look=counting, given=(0, 0.02), seconds=30.0):
        self.began, self.better, self.over = threading.Event(), [], threading.Event()
        self.end = None
        self.search = Search(key, look, given, seconds, self.began.set, self.better.append, self.ended)

    def ended(self, how, why):
        self.end = (how, why)
        self.over.set()


@pytest.fixture
def worker():
    worker = Worker()
    yield worker
    worker.close()


def test_a_search_is_stopped_and_the_best_so_far_is_kept_and_the_next_has_its_turn(worker):
    first, second = Heard("a"), Heard("b", given=(100, 0.01), seconds=0.3)
    worker.ask(first.search)
    worker.ask(second.search)
    with pytest.raises(Refused, match="looked for already"):
        worker.ask(Heard("a").search)
    assert first.began.wait(20)
    for _ in range(200):
        if first.better:
            break
        time.sleep(0.05)
    assert not second.began.is_set()
    assert worker.stop("a")
    assert first.over.wait(10)
    assert first.end == ("stopped", "")
    assert first.better == sorted(first.better)
    assert second.over.wait(20)
    assert (second.end, second.better[-1] > 100) == (("done", ""), True)
    assert not worker.stop("a")


def test_what_goes_wrong_in_one_search_is_told_and_costs_no_other(worker):
    bad, good = Heard("bad", failing, (0,)), Heard("good", given=(0, 0), seconds=0.1)
    worker.ask(bad.search)
    worker.ask(good.search)
    assert bad.over.wait(20)
    assert bad.end[0] == "failed"
    assert "no such shape" in bad.end[1]
    assert good.over.wait(20)
    assert good.end[0] == "done"


def test_no_more_than_a_few_wait_and_one_that_waits_can_be_taken_out(worker):
    all_of_them = [Heard(str(n), seconds=60) for n in range(WAITING + 1)]
    worker.ask(all_of_them[0].search)
    assert all_of_them[0].began.wait(20)
    for one in all_of_them[1:]:
        worker.ask(one.search)
    with pytest.raises(Refused, match=f"{WAITING} wait for their turn already"):
        worker.ask(Heard("more").search)
    assert worker.stop(str(WAITING))
    assert all_of_them[-1].over.wait(5)
    assert all_of_them[-1].end == ("stopped", "")
    assert not all_of_them[-1].began.is_set()


def test_a_process_that_is_killed_is_told_and_the_next_search_has_another(worker):
    killed, good = Heard("killed", seconds=60), Heard("good", given=(0, 0), seconds=0.1)
    worker.ask(killed.search)
    assert killed.began.wait(20)
    for _ in range(200):
        if killed.better:
            break
        time.sleep(0.05)
    worker._process.kill()
    worker.ask(good.search)
    assert killed.over.wait(20)
    assert killed.end[0] == "failed"
    assert killed.better  # what it had found was handed on before
    assert good.over.wait(20)
    assert good.end == ("done", "")


def test_a_keeper_that_fails_costs_only_its_own_search_and_what_is_closed_takes_no_more(worker):
    bad, good = Heard("bad", seconds=20), Heard("good", given=(0, 0), seconds=0.1)

    def broken(_):
        raise OSError("the disk is full")

    worker.ask(Search("bad", counting, (0, 0.01), 20.0, bad.began.set, broken, bad.ended))
    worker.ask(good.search)
    assert bad.over.wait(20)
    assert bad.end == ("failed", "it could not be looked for (the disk is full)")
    assert good.over.wait(20)
    assert worker.known() <= {"good"}
    late = Heard("late", seconds=30)
    worker.ask(late.search)
    assert late.began.wait(20)
    worker.close()
    assert late.over.wait(10)
    assert late.end == ("stopped", "")
    with pytest.raises(Refused, match="being ended"):
        worker.ask(Heard("later").search)


GLASS = "Sedge 163 twill glass"


def begun(shop, *names, product=GLASS, key="plan", seconds=1):
    """A plan of the jobs of some parts that take a product; its first way looks for so long."""
    row = next(row for row in shop.get("/cut-plans")["to_cut"] if row["product"] == product)
    rows = [{"part_id": job["part_id"], "job": job["job"]} for job in row["jobs"] if job["part"] in names]
    assert len(rows) == len(names)
    shop.ask("POST", "/cut-plans", {"id": key, "data_sheet_id": row["sheet_id"], "rows": rows}, 201)
    way = shop.get(f"/cut-plans/{key}")["ways"][0]
    changed(shop, way["id"], seconds=str(seconds))
    return way["id"]


def way_of(shop, key="plan", n=0):
    return shop.get(f"/cut-plans/{key}")["ways"][n]


def changed(shop, way, status=200, **texts):
    plans = [shop.get(f"/cut-plans/{plan['id']}") for plan in shop.get("/cut-plans")["plans"]]
    version = next(one["version"] for plan in plans for one in plan["ways"] if one["id"] == way)
    return shop.ask("PATCH", f"/cut-ways/{way}", {"version": version, "texts": texts}, status)


def laid_out(shop, way, key="plan"):
    shop.ask("POST", f"/cut-ways/{way}/layout", None, 202)
    for _ in range(400):
        found = next(one for one in shop.get(f"/cut-plans/{key}")["ways"] if one["id"] == way)
        if found["state"] not in ("waiting", "looking"):
            return found
        time.sleep(0.1)
    raise AssertionError(found)


def pieces(way):
    return [piece for stock in way["stocks"] for piece in stock["pieces"]]


def test_pieces_are_laid_out_cut_one_by_one_and_what_is_left_is_used_first(shop):
    way = begun(shop, "Left wing, upper skin", "Left flap, upper skin")
    found = laid_out(shop, way)
    assert (found["state"], found["wrong"], found["ready"]) == ("done", "", True)
    assert len(pieces(found)) == found["wanted"] > 4
    assert {piece["part"] for piece in pieces(found)} == {"Left wing, upper skin", "Left flap, upper skin"}
    first = pieces(found)[0]["key"]
    tick = {"id": "tick-1", "piece": first}
    for _ in range(2):
        shop.ask("POST", f"/cut-ways/{way}/pieces", tick, 201)
    assert way_of(shop)["cut"] == 1
    assert shop.get("/cut-plans")["plans"][0]["state"] == "being cut"
    shop.ask("POST", f"/cut-ways/{way}/pieces", {"id": "tick-2", "piece": first, "done": False}, 201)
    assert way_of(shop)["cut"] == 0
    assert (
        "not in this layout" in shop.refused("POST", f"/cut-ways/{way}/pieces", {"id": "x", "piece": "9#1"})["detail"]
    )

    for _ in range(2):
        shop.ask("POST", f"/cut-ways/{way}/cut", {"id": "cut-1"}, 201)
    cut = way_of(shop)
    assert (cut["cut"], bool(cut["cut_at"])) == (len(pieces(cut)), True)
    shelf = shop.get("/cut-plans")
    assert shelf["plans"][0]["state"] == "cut"
    assert all(GLASS in remnant["product"] for remnant in shelf["remnants"])
    for refused in ("layout", "pieces"):
        body = None if refused == "layout" else {"id": "y", "piece": first, "done": False}
        assert "cut" in shop.refused("POST", f"/cut-ways/{way}/{refused}", body)["detail"]
    assert changed(shop, way, 422, gap_m="7 mm")

    # Somebody found a large piece on the shelf: it is used before the roll is, and gone when that is cut.
    sheet = shop.get("/cut-plans/plan")["sheet_id"]
    size = {"length": {"text": "3.1", "unit": "m"}, "width": {"text": "1200 mm", "unit": "m"}}
    shop.ask("POST", "/remnants", {"id": "found", "data_sheet_id": sheet, **size}, 201)
    other = begun(shop, "Left flap, upper skin", key="second")
    second = laid_out(shop, other, "second")
    assert "remnant" in second["stocks"][0]["kind"]
    used = len([stock for stock in second["stocks"] if stock["kind"] == "remnant"])
    before = {row["id"] for row in shop.get("/cut-plans")["remnants"]}
    shop.ask("POST", f"/cut-ways/{other}/cut", {"id": "cut-2"}, 201)
    after = {row["id"] for row in shop.get("/cut-plans")["remnants"]}
    assert len(before - after) == used
    shop.ask("POST", "/remnants/found/notes", {"id": "again", "kind": "there"}, 201)
    assert "found" in {row["id"] for row in shop.get("/cut-plans")["remnants"]}


def test_a_layout_is_stopped_kept_through_a_restart_and_out_of_date_when_its_ply_book_changes(shop):
    way = begun(shop, "Left wing, upper skin", "Right wing, upper skin", "Left wing, lower skin", seconds=120)
    shop.ask("POST", f"/cut-ways/{way}/layout", None, 202)
    assert "stop that first" in shop.ask("POST", f"/cut-ways/{way}/layout", None, 422)["detail"]
    for _ in range(300):
        if way_of(shop)["stocks"]:
            break
        time.sleep(0.1)
    looking = way_of(shop)
    assert looking["state"] == "looking"
    assert looking["sentence"].startswith("Looking for a better one; so far ")
    assert "still looked for" in shop.ask("POST", f"/cut-ways/{way}/cut", {"id": "early"}, 422)["detail"]
    shop.ask("POST", f"/cut-ways/{way}/stop", None)
    for _ in range(100):
        if way_of(shop)["state"] == "stopped":
            break
        time.sleep(0.1)
    kept = way_of(shop)
    assert "Stopped; this was the best so far." in kept["sentence"]
    shop.reopen()
    assert way_of(shop)["stocks"] == kept["stocks"]

    part = shop.part("Left wing, upper skin")
    book = shop.get(f"/parts/{part}/plies")
    rows = [{"cloth_id": p["cloth_id"], "angle": {"text": "0", "unit": "°"}} for p in book["plies"]]
    core = {"core_id": book["core"]["core_id"], "core_after": book["core"]["after"]}
    order = {"version": book["version"], "plies": rows, **core, "reason": "straight instead"}
    shop.ask("PUT", f"/parts/{part}/plies", order)
    stale = way_of(shop)
    assert stale["sentence"].startswith("Out of date")
    assert not stale["ready"]
    assert "lay it out again" in shop.refused("POST", f"/cut-ways/{way}/cut", {"id": "late"})["detail"]


def test_two_ways_are_compared_and_only_one_of_them_is_cut(shop):
    way = begun(shop, "Left wing, upper skin")
    shop.ask("PATCH", "/cut-plans/plan", {"version": 1, "plies": "on the bias", "name": "Skins on the bias"})
    shop.ask("POST", "/cut-plans/plan/ways", {"id": "other", "like": way}, 201)
    stitched = next(one["id"] for one in way_of(shop)["products"] if "stitched" in one["name"])
    shop.ask("PATCH", "/cut-ways/other", {"version": 1, "data_sheet_id": stitched})
    changed(shop, way, price="9,80 EUR")
    changed(shop, "other", price="14 EUR", left_m="3 m")
    found = [laid_out(shop, key) for key in (way, "other")]
    figures = [{figure["key"]: figure["value"] for figure in one["figures"]} for one in found]
    assert figures[0]["pieces"] > figures[1]["pieces"]
    assert figures[0]["cost"] == pytest.approx(9.8 * figures[0]["run"], abs=0.01)
    assert figures[1]["waste_g"] == pytest.approx(figures[1]["grams"] * figures[1]["waste"] / 100)
    assert any("beyond what is left on the roll, 3.000 m" in words for words in found[1]["care"])
    assert any("longest piece is" in words for words in found[1]["care"])
    shop.ask("POST", f"/cut-ways/{way}/cut", {"id": "cut"}, 201)
    assert "is cut already" in shop.refused("POST", "/cut-ways/other/cut", {"id": "twice"})["detail"]
    version = shop.get("/cut-plans/plan")["version"]
    assert "is cut" in shop.refused("PATCH", "/cut-plans/plan", {"version": version, "rows": []})["detail"]


def test_core_is_cut_from_sheets_and_a_part_itself_from_plywood(shop):
    foam = begun(shop, "Left wing, upper skin", product="Bulrush 75, 8 mm foam")
    found = laid_out(shop, foam)
    if found["wrong"]:  # its sheet lacks a size
        raise AssertionError(found["wrong"])
    assert {piece["code"].rstrip("abcdefghijklmnopqrstuvwxyz") for piece in pieces(found)} == {"core "}
    assert {stock["kind"] for stock in found["stocks"]} == {"sheet"}
    sheets = next(figure["value"] for figure in found["figures"] if figure["key"] == "sheets")
    assert sheets == len(found["stocks"]) > 1

    texts = {"size_m.length": "48 in", "size_m.width": "48 in", "thickness_mm": "1 mm"}
    kept = shop.ask("POST", "/shelf", {"id": "ply", "kind": "sheet", "name": "Aspen ply", "texts": texts}, 201)
    wing = shop.part("Left wing, upper skin")
    order = {"id": "skin", "data_sheet_id": kept["id"], "rows": [{"part_id": wing, "job": None}]}
    shop.ask("POST", "/cut-plans", order, 201)
    way = way_of(shop, "skin")["id"]
    counts = {}
    for pitch in ("12 in", "15 in"):
        changed(shop, way, grain="across the part", pitch_m=pitch, seconds="1")
        panels = {round(piece["outline_mm"][0][0], 1) for piece in pieces(laid_out(shop, way, "skin"))}
        counts[pitch] = len(pieces(way_of(shop, "skin")))
        assert panels
    assert counts["15 in"] > counts["12 in"]


@pytest.mark.parametrize(
    ("texts", "says"),
    [
        ({"gap_m": "2 m"}, "Gap between pieces is 2000 mm; it can't be above 500 mm"),
        ({"width_m": "0.4 m", "gap_m": "450 mm"}, "the gap is 450 mm; it can't be above 400 mm"),
        ({"width_m": "0"}, "Width of the roll is 0 m; it must be above 0 m"),
        ({"seconds": "601"}, "Seconds to look is 601; it can't be above 600"),
        ({"trim_m": "-3 mm"}, "Trim all round is -3 mm; it can't be below 0 mm"),
        ({"width_m": "wide"}, "“wide” isn't understood"),
        ({"colour": "red"}, "“colour” is not asked here"),
    ],
)
def test_a_way_that_cannot_be_is_refused_by_field_and_stays_as_it_was(shop, texts, says):
    way = begun(shop, "Left wing, upper skin")
    before = way_of(shop)
    assert says in changed(shop, way, 422, **texts)["detail"]
    assert way_of(shop) == before


def test_what_can_not_be_cut_is_said_and_loses_nothing(shop):
    way = begun(shop, "Left wing, upper skin")
    changed(shop, way, width_m="40 mm", overlap_m="50 mm")
    found = way_of(shop)
    assert (found["wrong_field"], found["ready"]) == ("overlap_m", False)
    assert "the overlap is 50 mm and the roll 40 mm wide" in found["wrong"]
    assert "the overlap is 50 mm" in shop.refused("POST", f"/cut-ways/{way}/layout", None)["detail"]
    changed(shop, way, width_m="60 mm", overlap_m="59 mm", trim_m="0")
    assert "3000" in way_of(shop)["wrong"]
    changed(shop, way, width_m="", overlap_m="", seconds="0")
    found = laid_out(shop, way)
    assert found["state"] == "done"

    resin = next(row for row in shop.get("/bench")["products"])["id"]
    assert "is not cut into pieces" in shop.refused("POST", "/cut-plans", {"id": "n", "data_sheet_id": resin})["detail"]
    sheet = shop.get("/cut-plans/plan")["sheet_id"]
    size = {"length": {"text": "-1", "unit": "m"}, "width": {"text": "1", "unit": "m"}}
    problem = shop.refused("POST", "/remnants", {"id": "r", "data_sheet_id": sheet, **size})
    assert problem["errors"][0]["field"] == "length"
    shop.ask("POST", "/cut-plans", {"id": "empty", "data_sheet_id": sheet}, 201)
    nothing = way_of(shop, "empty")["id"]
    assert "no piece to lay out yet" in shop.refused("POST", f"/cut-ways/{nothing}/layout", None)["detail"]
    assert "no layout yet" in shop.ask("GET", f"/cut-ways/{nothing}/layout.dxf", status=422)["detail"]
    assert "at least one way" in shop.refused("PATCH", f"/cut-ways/{nothing}", {"version": 1, "hidden": True})["detail"]
    shop.ask("PATCH", "/cut-plans/empty", {"version": 1, "hidden": True})
    assert [row["id"] for row in shop.get("/cut-plans")["away"]] == ["empty"]


def test_what_two_plans_would_cut_is_named_in_both_until_one_is_put_away_and_once_it_is_cut(shop):
    names = ["Left wing, upper skin", "Right wing, upper skin", "Left flap, upper skin", "Tailplane"]
    way = begun(shop, *names)
    begun(shop, *names[:1], key="again")
    for key, other in (("plan", "again"), ("again", "plan")):
        shop.ask("PATCH", f"/cut-plans/{key}", {"version": 1, "name": f"Table {other}"})
    assert shop.get("/cut-plans/again")["twice"] == [
        "Left wing, upper skin: in the cut plan “Table again” too. Put one of the two away, or it is cut twice."
    ]
    assert "Table plan" in shop.get("/cut-plans/plan")["twice"][0]
    # On the bias here and the rest there: nothing is cut twice.
    shop.ask("PATCH", "/cut-plans/plan", {"version": 2, "plies": "on the bias"})
    shop.ask("PATCH", "/cut-plans/again", {"version": 2, "plies": "not on the bias"})
    assert shop.get("/cut-plans/again")["twice"] == []
    shop.ask("PATCH", "/cut-plans/again", {"version": 3, "plies": "all"})
    laid_out(shop, way)
    shop.ask("POST", f"/cut-ways/{way}/cut", {"id": "cut"}, 201)
    assert "cut already, in “Table again”" in shop.get("/cut-plans/again")["twice"][0]
    begun(shop, *names, key="third")
    assert any("and 2 more: cut already" in words for words in shop.get("/cut-plans/third")["twice"])
    assert shop.get("/cut-plans/plan")["twice"] == []
    shop.ask("PATCH", "/cut-plans/again", {"version": 4, "hidden": True})
    assert len(shop.get("/cut-plans/third")["twice"]) == 1


def test_two_who_change_one_way_lose_nothing_of_each_other(shop):
    way = begun(shop, "Left wing, upper skin")
    version = way_of(shop)["version"]
    shop.ask("PATCH", f"/cut-ways/{way}", {"version": version, "texts": {"gap_m": "9 mm"}})
    stale = shop.ask("PATCH", f"/cut-ways/{way}", {"version": version, "texts": {"trim_m": "25 mm"}}, 409)
    assert stale["changed"] == ["Gap between pieces"]


def test_codes_of_pieces_are_the_same_in_the_ply_book_on_paper_and_in_bench_mode_and_today_says_what_is_not_cut(shop):
    part = shop.part("Left wing, upper skin")
    way = begun(shop, "Left wing, upper skin")
    assert {ply["pieces"] for ply in shop.get(f"/parts/{part}/plies")["plies"]} == {""}
    laid = pieces(laid_out(shop, way))
    n = laid[0]["ply"]
    mine = [piece for piece in laid if piece["ply"] == n]
    ply = shop.get(f"/parts/{part}/plies")["plies"][n]
    assert all(piece["code"] in ply["pieces"] for piece in mine)
    assert ply["pieces"].endswith("; not cut yet.")
    assert ply["cut_plan"] == "plan"
    paper = pypdf.PdfReader(io.BytesIO(shop.client.get(f"/api/v1/parts/{part}/plies.pdf").data))
    assert mine[0]["code"] in "\n".join(page.extract_text() for page in paper.pages)
    steps = [step["key"] for step in shop.get(f"/parts/{part}/times")["steps"] if step["key"].endswith("/layup")]
    sheets = [shop.get(f"/run-sheet?part_id={part}&step_key={key}") for key in steps]
    item = next(item for sheet in sheets for item in sheet["items"] if item["key"] == f"ply-{n + 1}")
    assert item["detail"].startswith(ply["pieces"])

    # The pieces of a job, as they are laid out and, of what is in no plan, as they would be.
    glass, heavy, core = shop.get(f"/parts/{part}/pieces")["products"]
    assert glass["product"] == GLASS
    assert sorted(row["code"] for row in glass["pieces"]) == sorted(piece["code"] for piece in laid)
    assert {row["state"] for row in glass["pieces"]} == {"not cut yet"}
    assert {row["plan_id"] for row in glass["pieces"]} == {"plan"}
    for other in (heavy, core):
        assert {row["state"] for row in other["pieces"]} == {"not laid out"}
        assert other["unplanned"]
    assert core["pieces"][0]["lies"] == "core"
    weighs = sum(row["figures"][1]["value"] for row in glass["pieces"])
    assert glass["total"]["value"] == pytest.approx(weighs)

    shop.ask("POST", f"/cut-ways/{way}/pieces", {"id": "t", "piece": mine[0]["key"]}, 201)
    assert [
        row["code"] for row in shop.get(f"/parts/{part}/pieces")["products"][0]["pieces"] if row["state"] == "cut"
    ] == [mine[0]["code"]]
    said = shop.get(f"/parts/{part}/plies")["plies"][n]["pieces"]
    assert said != ply["pieces"]
    start = {"part_id": part, "step_key": "prepare", "crew": [], "kind": "finish", "id": "p"}
    shop.ask("POST", "/work", start, 201)
    today = shop.get("/today")
    rows = [*today["fits"], *today["later"]]
    words = " ".join(row["words"] for row in rows if row["part_id"] == part) + today["detail"]
    assert "Not cut yet: " in words
    assert "of “Sedge 163 twill glass”" in words
    shop.ask("POST", f"/cut-ways/{way}/cut", {"id": "done"}, 201)
    today = shop.get("/today")
    assert not any("Not cut yet" in row["words"] for row in [*today["fits"], *today["later"]])

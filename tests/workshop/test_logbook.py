"""The logbook: what is in it by itself, what is sought in it, what is written into it by hand, photographs."""

from __future__ import annotations

import io
from datetime import date, datetime
from urllib.parse import quote

import pytest
from PIL import Image
from tests.workshop.test_bench import later, vast

from kiteloom.demo.logbook import note_id
from kiteloom.store.models import Photo
from kiteloom.views.logbook import logbook
from kiteloom.workshop.base.ids import stable_id

BO, IMRE = stable_id("crew", "Bo"), stable_id("crew", "Imre")
JPEG = "image/jpeg"


def book(shop, **sought):
    return shop.get(f"/logbook?{'&'.join(f'{field}={quote(value)}' for field, value in sought.items())}")


def entries(view):
    return [entry for day in view["days"] for entry in day["entries"]]


def all_of(shop, **sought):
    """The whole book as it is sought, turned back to its first page."""
    found, before = [], ""
    while before is not None:
        view = book(shop, **sought, **({"before": before} if before else {}))
        found, before = [*found, *view["days"]], view["before"]
    return found


def write(shop, key="n", words="The left post is loose.", status=201, **more):
    return shop.ask("POST", "/log-notes", {"id": key, "kind": "note", "words": words, **more}, status)


def test_a_day_has_its_hours_and_all_that_happened_in_its_order(shop):
    yesterday = next(day for day in all_of(shop) if day["day"] == "2026-05-13")
    assert yesterday["title"] == "Wednesday 13 May"
    # From the notes of the demo: 10 + 65 + 105 min by Odile alone, 140 and 120 min by three.
    assert yesterday["hours"].startswith("16 h: ")
    assert "Odile 3 h" in yesterday["hours"]
    assert "Bo 4 h 20 min" in yesterday["hours"]
    told = [(entry["time"], entry["kind"]) for entry in yesterday["entries"]]
    assert told == sorted(told, key=lambda one: one[0])
    work = next(entry for entry in yesterday["entries"] if entry["of"] == "Bed the core and bag it")
    assert (work["words"], work["who"]) == ("2 h, finished.", "Bo, Imre and Sanna")


def test_what_was_corrected_stands_struck_beside_what_it_was_corrected_to(shop):
    later = next(entry for day in all_of(shop) for entry in day["entries"] if entry["corrects"])
    was = next(entry for day in all_of(shop) for entry in day["entries"] if entry["against"].startswith("Corrected"))
    assert later["corrects"] == f"It was written as: {was['words']}"
    assert "589.0 g" in later["words"]
    assert "598.0 g" in was["words"]
    assert later["time"] == was["time"] == "13:55"


def test_work_that_was_taken_back_does_not_count_and_is_seen(shop, left_upper):
    work = {"part_id": left_upper, "step_key": "prepare", "crew": [BO]}
    shop.ask("POST", "/work", {"id": "w", "kind": "start", **work}, 201)
    later(shop, minutes=40)
    assert entries(book(shop, part=left_upper))[-1]["words"] == "Begun."
    assert book(shop, person=BO)["days"][0]["hours"] == "Bo 40 min"
    shop.ask("POST", "/work/w/undo", {"id": "u"}, 201)
    struck = entries(book(shop, part=left_upper))[-1]
    assert (struck["words"], struck["against"]) == ("Begun.", "Taken back Thu 14 May 10:00")
    assert book(shop)["days"][0]["hours"] == ""


@pytest.mark.parametrize(
    ("sought", "least", "fits"),
    [
        ({"words": "SQUEEGEE  lost"}, 1, lambda entry: "short squeegee" in entry["words"]),
        ({"words": "left wing t-4471 sanna"}, 2, lambda entry: "T-4471" in entry["words"] and entry["who"] == "Sanna"),
        ({"kind": "decision"}, 1, lambda entry: entry["kind"] == "decision"),
        ({"kind": "photographs"}, 1, lambda entry: entry["photos"] != []),
        ({"kind": "open"}, 2, lambda entry: entry["open"]),
        ({"person": IMRE}, 10, lambda entry: "Imre" in entry["who"]),
        ({"words": "no such thing"}, 0, None),
    ],
)
def test_what_is_sought_is_found_through_the_whole_book(shop, sought, least, fits):
    # A decision, so that there is one in the small demo too.
    shop.release(shop.part("Right wing, lower skin"))
    found = [entry for day in all_of(shop, **sought) for entry in day["entries"]]
    assert len(found) >= least
    assert all(fits(entry) for entry in found) if least else found == []
    if not least:
        assert book(shop, **sought)["sentence"].startswith("Nothing in the book is like that.")


def test_who_left_is_found_in_the_book_and_writes_no_more(shop):
    odile = next(one for one in shop.get("/people")["people"] if one["name"] == "Odile")
    shop.ask("POST", f"/people/{odile['id']}/farewell", {"version": odile["version"]})
    assert "Odile" in [one["name"] for one in book(shop)["people"]]
    assert entries(book(shop, person=odile["id"]))
    assert "Odile" not in [one["name"] for one in shop.get("/note-form")["people"]]


def test_a_product_and_a_lot_lead_to_all_that_was_mixed_of_them(shop):
    view = book(shop)
    lot = next(one for one in view["lots"] if one["name"].startswith("T-4471"))
    product = next(one for one in view["products"] if one["name"].startswith("Tarn 210 with 214"))
    of_lot, of_product = ([e["id"] for d in all_of(shop, **by) for e in d["entries"]]
                          for by in ({"lot": lot["id"]}, {"product": product["id"]}))  # fmt: skip
    assert len(of_lot) > 8
    assert set(of_lot) <= set(of_product)


def test_the_book_is_turned_back_day_by_day_and_nothing_is_left_out(shop, monkeypatch):
    monkeypatch.setattr(logbook, "AT_ONCE", 10)
    first = book(shop)
    assert first["before"] is not None
    days = [day["day"] for day in all_of(shop)]
    assert days == sorted(set(days), reverse=True)
    assert days[-1] == "2026-04-17"  # four weeks back
    assert len({entry["id"] for day in all_of(shop) for entry in day["entries"]}) == sum(
        len(day["entries"]) for day in all_of(shop)
    )


def test_the_club_worked_and_mixed_in_each_week_of_a_month_and_finished_three_parts(whole):
    weeks = {}
    for day in all_of(whole):
        kinds = weeks.setdefault(date.fromisoformat(day["day"]).isocalendar().week, set())
        kinds |= {entry["kind"] for entry in day["entries"]}
    assert len(weeks) == 5
    assert all({"work", "mix", "note"} <= kinds for kinds in weeks.values())
    parts = {part["name"]: part for group in whole.get("/airframe")["assemblies"] for part in group["parts"]}
    for name in ("Seat back", "Baggage floor", "Battery box"):
        assert parts[name]["state"] == "done"
        says = [job["says"] for job in whole.get(f"/parts/{whole.part(name)}/weight")["jobs"]]
        assert all("as computed" in words for words in says)


def test_a_night_of_work_is_split_at_midnight_also_where_the_clocks_change(shop, left_upper):
    shop.clock.at = datetime.fromisoformat("2026-10-25T08:00:00+01:00")
    work = {"part_id": left_upper, "step_key": "prepare", "crew": [BO]}
    for key, kind, at in (("a", "start", "2026-10-24T22:00:00+02:00"), ("b", "pause", "2026-10-25T04:00:00+01:00")):
        shop.ask("POST", "/work", {"id": key, "kind": kind, "happened_at": at, **work}, 201)
    shop.ask("POST", "/log-notes", {"id": "n", "kind": "note", "words": "A long night."}, 201)
    # Two hours before midnight; five after it, for the clock stood still for one.
    assert [day["hours"] for day in book(shop, person=BO)["days"][:1]] == ["Bo 2 h"]
    assert book(shop)["days"][0]["hours"] == "Bo 5 h"


def test_a_note_is_written_once_corrected_and_stays(shop, left_upper):
    write(shop, part_id=left_upper, crew_member_id=BO)
    seq = shop.get("/now?since=-1")["seq"]
    write(shop, part_id=left_upper, crew_member_id=BO)  # sent again
    assert shop.get("/now?since=-1")["seq"] == seq
    later(shop, minutes=5)
    write(shop, "m", "The right post is loose.", part_id=left_upper, crew_member_id=BO, corrects_id="n")
    was, now = entries(book(shop, kind="note", part=left_upper))[-2:]
    assert (was["words"], was["against"]) == ("The left post is loose.", "Corrected Thu 14 May 09:25")
    assert now["corrects"] == "It was written as: The left post is loose."
    assert (now["part"], now["who"]) == ("Left wing, upper skin", "Bo")
    twice = {"id": "o", "kind": "note", "words": "Neither.", "corrects_id": "n"}
    assert "corrected already" in shop.refused("POST", "/log-notes", twice)["detail"]


def test_a_question_is_open_until_it_is_answered_and_the_manuals_revision_is_kept(shop):
    write(shop, "q", "Which rivet?", kind="question")
    assert book(shop)["open"] == 3
    said = {"id": "a", "words": "The long one.", "by_whom": "The kit maker", "revision": "C, page 12"}
    shop.ask("POST", "/log-notes/q/answers", said, 201)
    shop.ask("POST", "/log-notes/q/answers", said, 201)  # sent again
    asked = next(entry for entry in entries(book(shop, kind="question")) if entry["id"] == "q")
    assert asked["sub"] == ["The kit maker, Thu 14 May 09:20: The long one. It changed the manual: C, page 12."]
    assert book(shop)["open"] == 2
    later(shop, minutes=1)
    # Corrected, its answer goes with it; answered again, the first answer stays and says so.
    write(shop, "q2", "Which rivet in rib 1?", kind="question", corrects_id="q")
    shop.ask("POST", "/log-notes/q2/answers", {**said, "id": "b", "words": "The short one.", "revision": ""}, 201)
    asked = next(entry for entry in entries(book(shop, kind="question")) if entry["id"] == "q2")
    assert [line.endswith(("page 12.", "short one.")) for line in asked["sub"]] == [True, True]
    assert "(answered again since)" in asked["sub"][0]


@pytest.mark.parametrize(
    ("path", "body", "field", "words"),
    [
        ("/log-notes", {"words": "  "}, "words", "nothing is written yet"),
        ("/log-notes", {"words": "x" * 9000}, "words", "it has 9000 letters; at most 8000 are kept in one note"),
        ("/log-notes", {"words": "x" * 1_000_000}, "words", "1000000 letters"),
        ("/log-notes", {"words": "", "kind": "question", "shown": True}, "words", "nothing is written yet"),
        (f"/log-notes/{note_id(22)}/answers", {"words": "So.", "by_whom": "Odd"}, "log_note_id", "only a question"),
        (f"/log-notes/{note_id(18)}/answers", {"words": "So.", "by_whom": " "}, "by_whom", "name them"),
        ("/log-notes", {"words": "So.", "corrects_id": note_id(18)}, "kind", "a question is corrected by a question"),
    ],
)
def test_what_can_not_be_written_down_is_refused_with_the_limit(shop, path, body, field, words):
    note = {"kind": "note"} if path == "/log-notes" else {}
    refused = shop.refused("POST", path, {"id": "x", **note, **body})
    assert words in refused["detail"]
    assert field in [error["field"] for error in refused["errors"]]


def lying(exif=True):
    """A picture of 40 × 20 points, red on its left, taken with the camera lying on its side, somewhere."""
    picture = Image.new("RGB", (40, 20), "white")
    picture.paste("red", (0, 0, 10, 20))
    says = Image.Exif()
    says[0x0112] = 6  # turned by a quarter
    says.get_ifd(0x8825)[2] = (48.0, 12.0, 30.0)  # where it was taken
    says[0x010F] = "A camera"
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=95, exif=says if exif else b"")
    return out.getvalue()


NOTE = f"log-notes/{note_id(22)}"


def sent(shop, key, data, of=NOTE, media=JPEG):
    return shop.client.put(f"/api/v1/{of}/photos/{key}", data=data, content_type=media)


def test_a_photograph_is_turned_right_says_not_where_it_was_taken_and_is_kept_once(shop, left_upper):
    assert sent(shop, "p", lying()).status_code == 201
    kept = shop.client.get("/api/v1/photos/p")
    picture = Image.open(io.BytesIO(kept.data))
    assert picture.size == (20, 40)
    red, _, blue = picture.convert("RGB").getpixel((10, 2))
    assert red > 200 > 90 > blue  # what was left is on top
    assert dict(picture.getexif()) == {}
    assert b"A camera" not in kept.data
    # The same file for a step of a part: kept once, shown with both, and taken away with neither.
    assert sent(shop, "s", lying(), f"steps/{left_upper}").status_code == 201
    assert shop.client.get("/api/v1/photos/s").data == kept.data
    with shop.store.reading() as uow:
        assert uow.get(Photo, "s").data == b""
    [entry] = [one for one in entries(book(shop, part=left_upper)) if one["photos"]]
    assert entry["photos"] == ["s"]
    assert {one["id"] for one in entries(book(shop, kind="photographs"))} >= {"s", note_id(22)}


def test_a_large_photograph_has_a_small_one_to_be_shown_among_others(shop):
    out = io.BytesIO()
    Image.effect_noise((3000, 2000), 60).convert("RGB").save(out, "JPEG", quality=90)
    assert sent(shop, "p", out.getvalue()).status_code == 201
    small = shop.client.get("/api/v1/photos/p?small=true").data
    assert Image.open(io.BytesIO(small)).size == (480, 320)
    assert len(small) < 100_000 < len(shop.client.get("/api/v1/photos/p").data)


def test_a_photograph_of_over_a_megabyte_is_taken_of_whatever_it_is(shop, left_upper):
    out = io.BytesIO()
    Image.effect_noise((2600, 2000), 90).convert("RGB").save(out, "JPEG", quality=92)
    assert len(out.getvalue()) > 1_500_000
    wrong = {"id": "d", "part_id": left_upper, "step_key": "prepare", "kind": "void", "words": "a void"}
    shop.ask("POST", "/deviations", wrong, 201)
    assert sent(shop, "p", out.getvalue(), "deviations/d").status_code == 201


def test_a_picture_with_a_second_one_behind_it_is_a_photograph(shop):
    out = io.BytesIO()
    first, second = Image.new("RGB", (60, 40), "red"), Image.new("RGB", (30, 20), "red")
    first.save(out, "MPO", save_all=True, append_images=[second])
    assert sent(shop, "p", out.getvalue()).status_code == 201
    assert Image.open(io.BytesIO(shop.client.get("/api/v1/photos/p").data)).size == (60, 40)


@pytest.mark.parametrize(
    ("data", "status", "words"),
    [
        (b"\xff\xd8\xff" + bytes(13_000_000), 422, "13.0 MB; at most 12.6 MB are kept"),
        (bytes(100_000_000), 413, "100.0 MB"),
        (b"%PDF-1.7 no picture", 422, "no photograph; JPEG, PNG and WebP are kept"),
        (lying()[:400], 422, "no photograph"),
        (vast(), 422, "points; at most 60 million"),
    ],
)
def test_what_is_no_photograph_or_too_large_is_refused_and_the_note_stays(shop, data, status, words):
    answer = sent(shop, "p", data)
    assert answer.status_code == status
    assert words in answer.json["detail"]
    assert shop.client.get("/api/v1/photos/p").status_code == 404


def test_what_is_spoken_is_kept_with_a_note_and_with_nothing_else(shop, left_upper):
    write(shop, "v", "", shown=True)
    spoken = b"\x1a\x45\xdf\xa3" + bytes(2000)
    assert sent(shop, "a", spoken, "log-notes/v", "audio/webm").status_code == 201
    entry = next(entry for entry in entries(book(shop)) if entry["id"] == "v")
    assert (entry["spoken"], entry["photos"]) == (["a"], [])
    assert (entry["words"][:8], entry["text"]) == ("No words", "")  # nothing stands in the form that corrects it
    assert shop.client.get("/api/v1/photos/a").content_type == "audio/webm"
    assert sent(shop, "b", spoken, f"steps/{left_upper}", "audio/webm").status_code == 422
    # A telephone's own kind of picture begins as some recordings do: it is neither.
    heic = b"\x00\x00\x00\x18ftypheic" + bytes(100)
    assert sent(shop, "h", heic, "log-notes/v").status_code == 422


def test_an_empty_shop_has_an_empty_book_that_says_what_belongs_there(empty_shop):
    assert book(empty_shop)["sentence"].startswith("Nothing is written yet.")
    assert book(empty_shop)["days"] == []

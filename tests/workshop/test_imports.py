"""A logger's file is looked at before it is taken, and taken whole or not at all."""

from __future__ import annotations

import threading
import time
from datetime import datetime, timedelta
from uuid import uuid4

import pytest
from tests.browser.running import RunningShop

from kiteloom.workshop.air.staging import TALLY

ODD = (
    "Boathouse logger 3\n"
    "No;Temp (C);Date;Time;RH %\n"
    "1;15,0;09/02/2026;22:00;60\n"
    "2;14,0;09/02/2026;22:30;61\n"
    "3;err;09/02/2026;23:00;62\n"
    "4;13,0;10/02/2026;06:00;163\n"
    "4;50,0;10/02/2026;06:00;63\n"
)


def look(shop, text, status=200, **more):
    return shop.ask("POST", "/climate/previews", {"id": str(uuid4()), "name": "a.csv", "text": text, **more}, status)


def take(shop, text, status=201, **more):
    return shop.ask("POST", "/climate/imports", {"id": str(uuid4()), "name": "a.csv", "text": text, **more}, status)


def test_a_preview_says_how_the_file_is_read_and_takes_nothing(shop):
    seq = shop.get("/now?since=-1")["seq"]
    found = look(shop, ODD)
    assert (found["time"], found["temp"], found["humidity"], found["unit"], found["order"]) == (
        2,
        1,
        4,
        "°C",
        "day first",
    )
    assert [column["name"] for column in found["columns"]] == ["No", "Temp (C)", "Date", "Time", "RH %"]
    assert (
        found["sentence"]
        == "3 new readings for the main shop, Mon 9 Feb 22:00 to Tue 10 Feb 06:00, 13.0 °C to 15.0 °C."
    )
    assert found["bad"] == ["row 5: “err” isn't understood; write it like 18 °C or 64 °F"]
    notes = " ".join(found["notes"])
    assert "1 row repeats a time; the first of each stays." in notes
    assert "1 gap, the longest 7.5 h from Mon 9 Feb 22:30" in notes
    assert [(row["words"], round(row["c"], 1), row["rh_pct"]) for row in found["first"]] == [
        ("Mon 9 Feb 22:00", 15.0, 60),
        ("Mon 9 Feb 22:30", 14.0, 61),
        ("Tue 10 Feb 06:00", 13.0, None),  # a humidity of 163 % is none
    ]
    assert shop.get("/now?since=-1")["seq"] == seq


def test_what_was_guessed_can_be_said_otherwise_without_sending_the_file_again(shop):
    body = {"id": str(uuid4()), "name": "a.csv", "text": ODD}
    shop.ask("POST", "/climate/previews", body)
    del body["text"]
    choices = {"unit": "°F", "order": "month first", "clock": "utc", "humidity": -1}
    said = shop.ask("POST", "/climate/previews", {**body, "zone": "cool room", "choices": choices})
    assert "for the cool room, Thu 3 Sep 00:00 to Fri 2 Oct 08:00, -10.6 °C to -9.4 °C" in said["sentence"]
    assert said["humidity"] is None
    assert (
        "column 9 is not there" in shop.refused("POST", "/climate/previews", {**body, "choices": {"temp": 8}})["detail"]
    )
    gone = shop.ask("POST", "/climate/previews", {"id": "nobody", "name": "x"}, status=404)
    assert "There is no uploaded file" in gone["detail"]
    assert (
        "an id has 1 to 64 letters"
        in shop.refused("POST", "/climate/previews", {**body, "id": "../../etc/passwd"})["detail"]
    )


def test_rows_that_cannot_be_read_are_left_out_only_when_somebody_says_so(shop):
    problem = shop.refused("POST", "/climate/imports", {"id": str(uuid4()), "name": "a.csv", "text": ODD})
    assert "row 5: “err”" in problem["detail"]
    taken = take(shop, ODD, without_bad=True, zone="cool room")
    assert (taken["rows_read"], taken["rows_new"]) == (5, 3)
    again = take(shop, ODD, without_bad=True, zone="cool room")
    assert again["rows_new"] == 0
    assert take(shop, ODD, without_bad=True)["rows_new"] == 3  # another zone has a record of its own


def test_the_hour_that_comes_twice_is_told_by_the_order_of_the_rows(shop):
    night = [datetime(2025, 10, 26, 0, 0) + timedelta(minutes=30 * n) for n in range(8)]  # noqa: DTZ001
    wall = [*night[:6], *night[4:]]  # 02:00 and 02:30 come twice
    text = "time,temp °C\n" + "\n".join(f"{at:%Y-%m-%d %H:%M},{20 - n}" for n, at in enumerate(wall))
    found = look(shop, text)
    assert found["new"] == 10
    assert "The clocks change within the file" in " ".join(found["notes"])
    assert [row["at"][11:] for row in (*found["first"], *found["last"])][3:6] == [
        "01:30:00+02:00",
        "03:00:00+01:00",
        "03:30:00+01:00",
    ]
    winter = look(shop, text, choices={"clock": "winter"})
    assert winter["new"] == 8  # a logger left on winter time repeats itself


@pytest.mark.parametrize(
    ("text", "named"),
    [
        ("", "0 rows"),
        ("time,temp °C\n", "a header and 0 readings"),
        ("time,temp °C\nMonday,warm\nTuesday,cold\n", "no row has a time and a number"),
        ("time,door\n2026-05-14 10:00,open\n", "no row has a time and a number"),
    ],
)
def test_a_file_that_is_none_is_refused_in_words_and_nothing_is_kept(shop, text, named):
    for path in ("/climate/previews", "/climate/imports"):
        problem = shop.refused("POST", path, {"id": str(uuid4()), "name": "a.csv", "text": text})
        assert named in problem["detail"]


def long_file(rows):
    start = datetime(2024, 1, 1)  # noqa: DTZ001
    lines = [f"{start + timedelta(minutes=n)},{15 + n % 7}" for n in range(rows)]
    return "time,temp °C\n" + "\n".join(lines)


def test_a_long_file_is_taken_with_progress_and_can_be_stopped(shop):
    # The whole million is for `make bench`.
    text, key, seen = long_file(135_000), str(uuid4()), []
    body = {"id": key, "name": "long.csv", "text": text}
    results = []

    def send():
        answer = shop.app.test_client().post("/api/v1/climate/imports", json=body)
        results.append((answer.status_code, answer.json))

    def run(until):
        sending = threading.Thread(target=send)
        sending.start()
        while sending.is_alive():
            far = TALLY.far(key)
            seen.append((far.share, far.words))
            until(far)
            time.sleep(0.005)
        sending.join()

    run(lambda far: far.share > 0.2 and shop.ask("POST", f"/climate/imports/{key}/stop", {}))
    assert results[0][0] == 422
    assert "stopped; nothing of the file was taken" in results[0][1]["detail"]
    shop.clock.at = shop.clock.at + timedelta(days=1)
    seq = shop.get("/now?since=-1")["seq"]
    run(lambda far: None)
    # An hour is jumped over in spring; what a file says of it falls on the hour after it.
    assert results[1][1]["rows_new"] == 135_000 - 60
    shares = [share for share, _ in seen if share]
    assert len(set(shares)) > 10
    assert {words for _, words in seen} >= {"Reading the file", "Keeping its readings"}
    assert len(shop.get(f"/now?since={seq}")["changes"]) == 1
    assert shop.ask("POST", "/climate/imports", {**body, "text": "gone"}, status=201)["words"].startswith(
        "This file was taken"
    )


def test_a_server_killed_in_the_middle_of_a_save_keeps_what_it_said_it_kept_and_no_half(seeded, tmp_path):
    running = RunningShop(tmp_path / "demo", like=seeded)
    running.start()
    left = running.part_id("Rudder")
    work = {"id": str(uuid4()), "part_id": left, "step_key": "fit", "kind": "start"}
    assert running.post("/api/v1/work", work)["added"] is True
    products = {product["name"]: product["id"] for product in running.get("/api/v1/bench")["products"]}
    cup = {
        "id": str(uuid4()),
        "part_id": left,
        "step_key": "fit",
        "sheet_id": products["Tarn 210 with 214 slow"],
        "resin_lid": "Tarn 210 A",
        "hardener_lid": "Tarn 214 B slow",
        "wanted_g": 128,
        "resin": {"text": "100", "unit": "g"},
        "hardener": {"text": "28", "unit": "g"},
        "another": True,
    }
    acknowledged = running.post("/api/v1/batches", cup)["id"]
    key, failed = str(uuid4()), []

    def send():
        try:
            running.post("/api/v1/climate/imports", {"id": key, "name": "long.csv", "text": long_file(60_000)})
        except OSError as error:
            failed.append(error)

    sending = threading.Thread(target=send)
    sending.start()
    while sending.is_alive() and running.get(f"/api/v1/climate/imports/{key}/far")["share"] < 0.55:
        time.sleep(0.02)
    running.stop(kill=True)
    sending.join()
    assert failed, "it was to be killed before it answered"
    running.start()
    try:
        assert running.post("/api/v1/work", work)["added"] is False  # it was kept
        assert [batch["id"] for batch in running.get(f"/api/v1/parts/{left}/mix")["batches"]] == [acknowledged]
        preview = {"id": key, "name": "long.csv", "text": long_file(60_000)}
        assert running.post("/api/v1/climate/previews", preview)["new"] == 60_000  # no half of it was
        while not running.get("/api/v1/weather")["alerts"]:  # the watch has had its first look
            time.sleep(0.1)
        seq = running.get("/api/v1/now")["seq"]
        running.stop()
        running.start()
        assert running.get("/api/v1/now")["seq"] == seq  # a start changes nothing
    finally:
        running.stop()


def test_dates_that_could_be_read_either_way_are_said(shop):
    def notes(*days):
        rows = "\n".join(f"{day} {hour:02d}:00,18" for day in days for hour in range(3))
        body = {"id": "look", "name": "a.csv", "zone": "cool room", "text": f"time,temp °C\n{rows}"}
        return shop.ask("POST", "/climate/previews", body)["notes"]

    assert any("“01/05/2026” is read with day first; if the month comes first" in note for note in notes("01/05/2026"))
    assert not any("say so below" in note for note in notes("13/05/2026", "14/05/2026"))
    assert not any("say so below" in note for note in notes("2026-05-01"))

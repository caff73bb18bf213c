"""The stateless calculations of air and time, field by field as the contract gives them."""

import itertools
from datetime import datetime, timedelta

import pytest
from tests.api.test_contract import CURE

ALWAYS = {"hours": [{"weekday": day, "from": "00:00", "to": "24:00"} for day in range(7)]}
WEEK = {"hours": [{"weekday": day, "from": "08:00", "to": "17:00"} for day in range(5)], "closed": ["2026-05-15"]}
STEADY = [{"at": "2026-05-14T00:00", "c": 23}]


@pytest.fixture
def calc(empty_shop):
    def calculate(name, body, status=200):
        return empty_shop.ask("POST", f"/calc/{name}", body, status)

    return calculate


def test_climate_gives_the_margin_and_every_reason_against(calc):
    good = calc("climate", {"temp_c": 25, "rh_pct": 50})
    assert good == {"dew_point_c": pytest.approx(13.864, abs=5e-4), "margin_c": pytest.approx(11.136, abs=5e-4)} | {
        "ok": True,
        "reasons": [],
    }
    bad = calc("climate", {"temp_c": 15, "rh_pct": 90, "surface_c": 14, "min_c": 16, "max_rh_pct": 80})
    assert bad["ok"] is False
    assert len(bad["reasons"]) == 3
    assert "rh_pct" in calc("climate", {"temp_c": 20, "rh_pct": 140}, 422)["detail"]


def windows(**more):
    body = {
        "temperature": [
            {"at": "2026-05-18T00:00", "c": 8},
            {"at": "2026-05-18T12:00", "c": 20},
            {"at": "2026-05-19T00:00", "c": 8},
        ],
        "min_c": 14,
        "parts": [
            {"name": "coats", "minutes": 60, "hands_on": True},
            {"name": "dry", "minutes": 120, "hands_on": False},
        ],
        "calendar": {"hours": [{"weekday": 0, "from": "08:00", "to": "15:00"}], "closed": []},
    }
    return {**body, **more}


def test_windows_are_where_the_whole_sequence_fits(calc):
    # 14 °C or more from 06:00 to 18:00; hands-on work from 08:00 to 15:00; three hours in all.
    assert calc("windows", windows())["windows"] == [
        {"start": "2026-05-18T08:00:00", "end": "2026-05-18T17:00:00", "latest_start": "2026-05-18T14:00:00"}
    ]
    dry = [{"at": "2026-05-18T00:00", "rh_pct": 60}]
    assert calc("windows", windows(humidity=dry))["windows"] == calc("windows", windows())["windows"]
    damp = [{"at": "2026-05-18T00:00", "rh_pct": 90}]
    assert calc("windows", windows(humidity=damp))["windows"] == []  # less than 3 °C above the dew point
    # A limit of its own does not switch the dew point off.
    assert calc("windows", windows(humidity=damp, max_rh_pct=95))["windows"] == []
    assert calc("windows", windows(humidity=dry, max_rh_pct=65))["humidity_known_until"] == "2026-05-18T00:00:00"
    assert "no humidity to hold" in calc("windows", windows(max_rh_pct=95), 422)["detail"]
    assert calc("windows", windows(min_c=19.5))["windows"] == []


def schedule(steps, **more):
    body = {
        "start": "2026-05-14T08:00",
        "calendar": WEEK,
        "crew": [{"id": "a", "skills": ["bag"]}, {"id": "b", "skills": []}],
        "stations": [{"id": "bench", "capacity": 1}],
        "temperature": STEADY,
        "steps": steps,
        "seconds": 0,
    }
    return {**body, **more}


def step(key, minutes=60, people=1, **more):
    return {"id": key, "minutes": minutes, "people": people, **more}


def test_schedule_places_every_step_and_says_what_held_it(calc):
    found = calc(
        "schedule",
        schedule(
            [
                step("lay", 100, 2, skills=["bag"], cure=CURE, wait={"stage": "peel"}, stations=["bench"]),
                step("peel", 30, after=[{"step": "lay"}]),
                step("stand", 10, after=[{"step": "lay", "until": "end"}], wait={"minutes": 45}),
                step("bush", 20, not_before="2026-05-14T13:00"),
                step("fit", 40, 0, stations=["bench"]),
            ]
        ),
    )
    placed = {p["id"]: p for p in found["steps"]}
    assert (placed["lay"]["start"], placed["lay"]["end"]) == ("2026-05-14T08:00:00", "2026-05-14T09:40:00")
    assert placed["lay"]["ready"] == "2026-05-14T21:40:00"  # twelve hours at the reference, to the second
    assert set(placed["lay"]["people"]) == {"a", "b"}
    # Friday is closed, so the peeling waits for Monday morning.
    assert (placed["peel"]["start"], placed["peel"]["because"]["kind"]) == ("2026-05-18T08:00:00", "hours")
    assert (placed["stand"]["start"], placed["stand"]["ready"]) == ("2026-05-14T09:40:00", "2026-05-14T10:35:00")
    assert placed["stand"]["because"] == {"kind": "after", "of": "lay"}
    assert placed["bush"]["because"]["kind"] == "delivery"
    assert (placed["fit"]["start"], placed["fit"]["because"]) == (
        "2026-05-14T09:40:00",
        {"kind": "station", "of": "bench"},
    )
    assert (placed["fit"]["people"], found["finish"]) == ([], "2026-05-18T08:30:00")
    assert found["lower_bound"] <= found["finish"]
    assert found["gap_pct"] == pytest.approx(0)
    assert found["unplaced"] == []


def test_what_must_follow_within_minutes_is_placed_so_and_the_first_is_moved_for_it(calc):
    steps = [
        step("coat", 60, cure=CURE, wait={"stage": "gel"}),
        step("again", 60, after=[{"step": "coat", "until": "gel", "within_minutes": 120}]),
    ]
    found = calc("schedule", schedule(steps, start="2026-05-14T14:00"))
    placed = {p["id"]: p for p in found["steps"]}
    ready = datetime.fromisoformat(placed["coat"]["ready"])
    assert timedelta() <= datetime.fromisoformat(placed["again"]["start"]) - ready <= timedelta(hours=2)
    assert placed["coat"]["start"] == "2026-05-18T08:00:00"  # on Thursday it would gel after closing
    assert placed["coat"]["because"] == {"kind": "after", "of": "again"}
    never = calc("schedule", schedule([steps[0], {**steps[1], "minutes": 530}]))
    assert {left["id"] for left in never["unplaced"]} == {"coat", "again"}
    assert "no working hours allow it" in next(u["why"] for u in never["unplaced"] if u["id"] == "again")


@pytest.mark.parametrize(
    ("form", "zone"),
    [("2026-05-14T08:00", None), ("2026-05-14T08:00+02:00", "Europe/Vienna"), ("2026-05-14T06:00Z", "Europe/Vienna")],
)
def test_times_come_back_in_the_requests_own_form(calc, form, zone):
    body = schedule([step("a", 30)], start=form, temperature=[{"at": form, "c": 20}], calendar={**WEEK, "zone": zone})
    assert (
        calc("schedule", body)["steps"][0]["start"] == form.replace("Z", ":00Z")
        if form.endswith("Z")
        else form[:16] + ":00" + form[16:]
    )


def test_a_cure_runs_through_the_night_the_clocks_change(calc):
    start = "2026-03-28T18:00+01:00"
    body = schedule(
        [step("lay", 60, cure=CURE, wait={"stage": "peel"}), step("peel", 30, after=[{"step": "lay"}])],
        start=start,
        temperature=[{"at": start, "c": 23}],
        calendar={**ALWAYS, "zone": "Europe/Vienna"},
    )
    ready = datetime.fromisoformat(calc("schedule", body)["steps"][0]["ready"])
    assert ready - datetime.fromisoformat(start) == timedelta(hours=13)


BAD = {
    "a loop": ([step("a", after=[{"step": "b"}]), step("b", after=[{"step": "a"}])], {}, "a → b → a"),
    "an unknown step": ([step("a", after=[{"step": "x"}])], {}, "“a” comes after “x”, which is not there"),
    "an unknown station": ([step("a", stations=["oven"])], {}, "needs the station “oven”"),
    "one name twice": ([step("a"), step("a")], {}, "“a” is there twice"),
    "a stage the cure lacks": ([step("a", cure=CURE, wait={"stage": "set"})], {}, "“set” is not a stage"),
    "a stage without a cure": ([step("a", wait={"stage": "peel"})], {}, "has no cure"),
    "no minutes": ([step("a", 0)], {}, "it must be above 0 min"),
    "too many hours": ([step("a")], {"calendar": {"hours": [{"weekday": 0, "from": "08:00", "to": "25:00"}]}}, "24:00"),
    "a zone that is none": ([step("a")], {"calendar": {**WEEK, "zone": "Mars"}}, "“Mars” is not a zone"),
    "no temperature": ([step("a", min_c=5)], {"temperature": []}, "temperature has no entries"),
    "times in two forms": ([step("a")], {"temperature": [{"at": "2026-05-14T08:00Z", "c": 20}]}, "differ in form"),
    "a window of less than nothing": (
        [step("a"), step("b", after=[{"step": "a", "within_minutes": -5}])],
        {},
        "within_minutes is -5 min",
    ),
}


@pytest.mark.parametrize("name", BAD)
def test_what_cannot_be_scheduled_is_refused_by_name(calc, name):
    steps, more, named = BAD[name]
    assert named in calc("schedule", schedule(steps, **more), 422)["detail"]


def test_what_cannot_be_placed_is_named_with_its_followers_and_the_rest_is_planned(calc):
    found = calc(
        "schedule",
        schedule(
            [step("long", 700), step("next", after=[{"step": "long"}]), step("weld", skills=["weld"]), step("free")]
        ),
    )
    assert [p["id"] for p in found["steps"]] == ["free"]
    assert {left["id"] for left in found["unplaced"]} == {"long", "next", "weld"}
    assert found["finish"] == "2026-05-14T09:00:00"
    # Where nothing cures and nothing has a limit, no temperature is asked for.
    assert calc("schedule", schedule([step("free")], temperature=[]))["finish"] == "2026-05-14T09:00:00"


# Source: Fisher and Thompson's 6 × 6 instance (1963), from memory; its proven optimum is 55.
FT06 = (
    "2 1 0 3 1 6 3 7 5 3 4 6", "1 8 2 5 4 10 5 10 0 10 3 4", "2 5 3 4 5 8 0 9 1 1 4 7",
    "1 5 0 5 2 5 3 3 4 8 5 9", "2 9 1 3 4 5 5 4 0 3 3 1", "1 3 3 3 5 9 0 10 4 4 2 1",
)  # fmt: skip


def test_a_job_shop_with_a_known_optimum_is_placed_soundly_and_bounded_below_it(calc):
    steps = []
    for job, row in enumerate(FT06):
        numbers = [int(n) for n in row.split()]
        for k in range(6):
            after = [{"step": f"{job}-{k - 1}"}] if k else []
            steps.append(step(f"{job}-{k}", 5 * numbers[2 * k + 1], 0, stations=[f"m{numbers[2 * k]}"], after=after))
    body = schedule(steps, calendar=ALWAYS, crew=[], stations=[{"id": f"m{n}", "capacity": 1} for n in range(6)])
    found = calc("schedule", body)
    begin = datetime.fromisoformat(body["start"])

    def minutes(text):
        return (datetime.fromisoformat(text) - begin).total_seconds() / 60

    assert minutes(found["lower_bound"]) <= 275 <= minutes(found["finish"]) < 275 * 1.5
    placed = {p["id"]: (minutes(p["start"]), minutes(p["end"])) for p in found["steps"]}
    for machine in range(6):
        used = sorted(placed[s["id"]] for s in steps if s["stations"] == [f"m{machine}"])
        assert all(end <= start for (_, end), (start, _) in itertools.pairwise(used))


def test_what_is_named_as_the_cause_moves_the_step_when_it_is_moved(calc):
    """Each kind of cause once: taken away through the contract itself, and the step begins sooner."""
    busy = step("busy", 240, 2, skills=["bag"], stations=["bench"])
    cold = [{"at": "2026-05-14T08:00", "c": 4}, {"at": "2026-05-14T14:00", "c": 20}]
    jobs = {
        "crew": (schedule([busy, step("x", 30)]), lambda b: b["crew"].append({"id": "c"})),
        "station": (
            schedule([step("busy", 240, 0, stations=["bench"]), step("x", 30, 0, stations=["bench"])]),
            lambda b: b["stations"][0].update(capacity=2),
        ),
        "cure": (
            schedule([step("lay", 30, cure=CURE, wait={"stage": "gel"}), step("x", 30, after=[{"step": "lay"}])]),
            lambda b: b["steps"][1].update(after=[]),
        ),
        "after": (
            schedule([step("cut", 120), step("x", 30, after=[{"step": "cut", "until": "end"}])]),
            lambda b: b["steps"][0].update(minutes=30),
        ),
        "hours": (
            schedule([step("x", 300)], start="2026-05-14T14:00"),
            lambda b: b.update(calendar=ALWAYS),
        ),
        "delivery": (
            schedule([step("x", 30, not_before="2026-05-14T11:00")]),
            lambda b: b["steps"][0].update(not_before="2026-05-14T09:30"),
        ),
        "climate": (
            schedule([step("x", 60, min_c=12, wait={"minutes": 30})], temperature=cold),
            lambda b: b["steps"][0].update(min_c=8),
        ),
    }
    for kind, (body, take_away) in jobs.items():
        held = next(p for p in calc("schedule", body)["steps"] if p["id"] == "x")
        assert held["because"]["kind"] == kind, kind
        assert held["because"]["of"]
        take_away(body)
        freed = next(p for p in calc("schedule", body)["steps"] if p["id"] == "x")
        assert freed["start"] < held["start"], kind


def test_two_causes_that_only_hold_together_are_not_blamed_alone(calc):
    """Bench and people are both taken until noon: one of them is named, and taking both away frees the step."""
    body = schedule([step("busy", 240, 2, stations=["bench"]), step("x", 30, stations=["bench"])])
    held = next(p for p in calc("schedule", body)["steps"] if p["id"] == "x")
    assert held["because"]["kind"] in ("crew", "station")
    body["crew"].append({"id": "c"})
    assert next(p for p in calc("schedule", body)["steps"] if p["id"] == "x")["start"] == held["start"]
    body["stations"][0]["capacity"] = 2
    assert next(p for p in calc("schedule", body)["steps"] if p["id"] == "x")["start"] < held["start"]


def test_a_limit_holds_until_the_wait_is_over_and_a_station_is_kept_so_long(calc):
    night = [
        {"at": "2026-05-14T08:00", "c": 18},
        {"at": "2026-05-14T20:00", "c": 6},
        {"at": "2026-05-18T08:00", "c": 18},
    ]
    steps = [
        step("coat", 60, min_c=10, wait={"minutes": 300}, stations=["bench"], holds_station_through_wait=True),
        step("next", 30, stations=["bench"]),
        step("late", 60, min_c=10, wait={"minutes": 300}, after=[{"step": "coat"}]),
    ]
    placed = {p["id"]: p for p in calc("schedule", schedule(steps, temperature=night))["steps"]}
    assert (placed["coat"]["start"], placed["coat"]["ready"]) == ("2026-05-14T08:00:00", "2026-05-14T14:00:00")
    assert placed["next"]["start"] == placed["coat"]["ready"]
    assert placed["late"]["start"][:10] == "2026-05-18"  # six hours from 14:00 on would end at 6 °C
    del steps[2]["min_c"]
    freed = {p["id"]: p for p in calc("schedule", schedule(steps, temperature=night))["steps"]}
    assert freed["late"]["start"] == placed["coat"]["ready"]


def test_a_better_order_is_searched_for_within_seconds_or_rounds_and_is_never_worse(calc):
    steps = [step(f"lay{n}", 90 + 30 * n, cure=CURE, wait={"stage": "gel"}, stations=["bench"]) for n in range(4)]
    steps += [step(f"trim{n}", 60, after=[{"step": f"lay{n}"}]) for n in range(4)]
    steps += [step(f"sand{n}", 200, skills=["bag"]) for n in range(3)]
    body = schedule(steps)
    first = calc("schedule", body)
    found = calc("schedule", {**body, "seconds": 2})
    assert found["finish"] <= first["finish"]
    assert first["lower_bound"] <= found["lower_bound"] <= found["finish"]
    assert {placed["id"] for placed in found["steps"]} == {placed["id"] for placed in first["steps"]}
    one, other = (calc("schedule", {**body, "rounds": 1, "seed": 7}) for _ in range(2))
    assert one == other
    assert one["finish"] <= first["finish"]
    for change, field in (({"seconds": 3600}, "seconds"), ({"rounds": -1}, "rounds"), ({"seed": -1}, "seed")):
        assert field in str(calc("schedule", {**body, **change}, 422)["errors"])

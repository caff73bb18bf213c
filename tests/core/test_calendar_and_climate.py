"""Working hours through clock changes; temperatures joined without a jump."""

from datetime import UTC, date, datetime, timedelta
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.core.tasks import EPOXY

from kiteloom.core.air.profile import (
    DayOutlook,
    Profile,
    day_curve,
    last_day_repeated,
    record_then_forecast,
    what_is_known,
)
from kiteloom.core.base.calendar import (
    Shift,
    WorkingHours,
    both,
    clock_minutes,
    joined_up,
    local_midnight,
    minute_of,
    moment_of,
    nights,
    when,
    zone_of,
)
from kiteloom.core.base.problems import Refused
from kiteloom.core.cure.progress import follow

VIENNA = zone_of("Europe/Vienna")


def local(text):
    return minute_of(datetime.fromisoformat(text).replace(tzinfo=VIENNA))


def shown(intervals):
    return [tuple(moment_of(m, VIENNA).strftime("%a %H:%M") for m in interval) for interval in intervals]


@pytest.mark.parametrize(
    ("day", "hours"),
    [("2026-03-29", 23), ("2026-10-25", 25), ("2026-05-17", 24)],
    ids=["clocks go forward", "clocks go back", "an ordinary Sunday"],
)
def test_a_day_round_the_clock_has_the_hours_it_really_has(day, hours):
    always = WorkingHours(VIENNA, tuple(Shift(d, 0, 1440) for d in range(7)))
    start = local(f"{day}T00:00")
    found = always.intervals(start, start + 26 * 60)
    assert len(found) == 1  # midnights are no break
    one_day = WorkingHours(VIENNA, (Shift(6, 0, 1440),)).intervals(start, start + 26 * 60)
    assert one_day[0][1] - one_day[0][0] == hours * 60


def test_a_morning_shift_starts_at_its_local_hour_on_both_sides_of_a_clock_change():
    hours = WorkingHours(VIENNA, (Shift(5, 480, 720), Shift(0, 480, 720)))
    for start in ("2026-03-27T12:00", "2026-10-23T12:00"):
        found = hours.intervals(local(start), local(start) + 4 * 1440)
        assert shown(found) == [("Sat 08:00", "Sat 12:00"), ("Mon 08:00", "Mon 12:00")]


def test_closed_dates_are_closed_and_a_running_shift_is_cut_at_the_start():
    hours = WorkingHours(VIENNA, tuple(Shift(d, 480, 1020) for d in range(5)), frozenset({date(2026, 5, 15)}))
    found = hours.intervals(local("2026-05-14T10:30"), local("2026-05-18T12:00"))
    assert shown(found) == [("Thu 10:30", "Thu 17:00"), ("Mon 08:00", "Mon 12:00")]


#: Hours of a day as (weekday, first hour, hours long), some of them round the clock.
SHIFTS = st.lists(st.tuples(st.integers(0, 6), st.integers(0, 23), st.integers(1, 24)), max_size=6)


@given(
    shifts=SHIFTS,
    begins=st.sampled_from(["2026-03-28", "2026-10-24", "2026-12-30", "2027-12-31", "2028-02-28"]),
    minutes=st.integers(0, 3000),
    days=st.integers(1, 400),
    closed=st.integers(0, 5),
)
def test_hours_are_those_of_looking_at_every_local_quarter_of_an_hour(shifts, begins, minutes, days, closed):
    """Over the turn of a year, a leap day, days on which the clocks change, closed days."""
    week = tuple(Shift(day, 60 * first, min(60 * (first + length), 1440)) for day, first, length in shifts)
    shut = date.fromisoformat(begins) + timedelta(days=closed)
    hours = WorkingHours(VIENNA, week, frozenset({shut}))
    start = local(f"{begins}T00:00") + 15 * minutes
    end = start + 1440 * days
    found = hours.intervals(start, end)
    assert all(a < b for a, b in found)
    assert all(b < c for (_, b), (c, _) in pairwise(found))

    def open_at(minute):
        there = moment_of(minute, VIENNA)
        wall = there.hour * 60 + there.minute
        return there.date() != shut and any(
            one.weekday == there.weekday() and one.start <= wall < one.end for one in week
        )

    for minute in range(int(start) + 7, int(min(end, start + 9 * 1440)), 15):
        assert any(a <= minute < b for a, b in found) == open_at(minute), moment_of(minute, VIENNA)
    assert not found or (start <= found[0][0] and found[-1][1] <= end)


ROWS = st.lists(st.tuples(st.integers(0, 90), st.integers(1, 15)).map(lambda t: (t[0], t[0] + t[1])), max_size=9)


@given(one=ROWS, other=ROWS)
def test_two_rows_of_hours_overlap_exactly_where_both_are(one, other):
    one, other = joined_up(one), joined_up(other)
    found = both(one, other)
    assert found == sorted(found)
    assert found == both(other, one)
    for minute in range(110):
        there = [any(a <= minute < b for a, b in row) for row in (one, other, found)]
        assert there[2] == (there[0] and there[1])


@given(
    temps=st.lists(st.floats(12.5, 60), min_size=2, max_size=12),
    apart=st.sampled_from([1, 20, 60, 700]),
    hours=st.floats(0.01, 40),
    mixed=st.floats(0, 2000),
)
def test_a_cure_has_had_at_its_end_just_the_hours_it_was_to_have(temps, apart, hours, mixed):
    """In slow and in very steep air: what is found by few steps is as near as what is found by many."""
    profile = Profile.of([(n * apart, celsius) for n, celsius in enumerate(temps)])
    progress = follow(EPOXY, mixed, profile)
    minute = progress.reaches(hours)
    assert minute is not None
    assert progress.at(minute) == pytest.approx(hours, abs=2e-9 * EPOXY.rate_at(60))
    assert progress.at(max(minute - 1, 0)) < hours


def test_nights_run_from_nine_to_six():
    assert shown(nights(VIENNA, local("2026-05-14T12:00"), local("2026-05-15T23:00"))) == [
        ("Thu 21:00", "Fri 06:00"),
        ("Fri 21:00", "Fri 23:00"),
    ]


def test_a_time_is_said_with_no_more_day_than_needed():
    now = local("2026-05-14T09:20")
    said = [when(local(f"2026-{day}T06:40"), VIENNA, now) for day in ("05-14", "05-16", "05-25", "05-12")]
    assert said == ["06:40", "Sat 06:40", "Mon 25 May 06:40", "Tue 12 May 06:40"]
    assert when(now, VIENNA) == "Thu 14 May 09:20"


@pytest.mark.parametrize(
    ("text", "named"), [("8h", "“8h”"), ("08:75", "“08:75”"), ("25:00", "24:00"), ("noon", "“noon”")]
)
def test_a_time_of_day_that_is_none_is_refused(text, named):
    with pytest.raises(Refused, match=named):
        clock_minutes(text)


def test_a_shift_that_ends_before_it_starts_names_the_day():
    with pytest.raises(Refused, match="Monday ends at 08:00 and starts at 17:00"):
        Shift(0, 1020, 480)


def test_a_day_curve_is_lowest_at_six_and_highest_at_three_every_day():
    midnight = local_midnight(local("2026-05-14T18:00"), VIENNA)
    curve = day_curve(8, 20, midnight, 3)
    for day in range(3):
        minutes = [midnight + day * 1440 + step for step in range(0, 1440, 30)]
        celsius = [curve.at(minute) for minute in minutes]
        assert minutes[int(np.argmin(celsius))] == midnight + day * 1440 + 6 * 60
        assert minutes[int(np.argmax(celsius))] == midnight + day * 1440 + 15 * 60
        assert (min(celsius), max(celsius)) == pytest.approx((8, 20))


@pytest.mark.parametrize(("low", "high", "named"), [(20, 8, "can't be above the high"), (-60, 8, "-60"), (8, 90, "90")])
def test_a_low_and_high_that_cannot_be_are_refused(low, high, named):
    with pytest.raises(Refused, match=named):
        day_curve(low, high, 0, 1)


def test_a_forecast_takes_over_from_the_last_reading_without_a_jump_and_wins_in_the_end():
    record = Profile.of([(0, 12), (60, 15)])
    forecast = Profile.of([(float(m), 10.0) for m in range(0, 3000, 30)])
    joined = record_then_forecast(record, forecast)
    assert joined.at(60) == 15
    assert joined.at(90) == pytest.approx(15, abs=0.5)
    assert joined.at(60 + 6 * 60) == pytest.approx(10 + 5 / np.e, abs=0.02)
    assert joined.at(2900) == pytest.approx(10, abs=0.01)


def test_the_last_recorded_day_is_repeated_hour_by_hour():
    hours = np.arange(0, 49)
    record = Profile.of([(60.0 * h, 15 + 5 * np.cos((h - 15) * np.pi / 12) + (h > 24)) for h in hours])
    joined = record_then_forecast(record, last_day_repeated(record, 5))
    for hour in (30, 37, 47):
        assert joined.at(60 * (hour + 72)) == pytest.approx(record.at(60 * hour), abs=0.1)
    short = Profile.of([(0, 10), (600, 14)])
    assert last_day_repeated(short, 5).at(9000) == 12


@pytest.mark.parametrize("record", [None, Profile.of([(0, 12), (60, 14)])])
def test_what_is_expected_is_made_once_a_day_whatever_the_minute(record):
    typed = [DayOutlook(0, 0, 4, 12)]
    noon, later, tomorrow = (what_is_known(record, typed, minute, 3).profile for minute in (720, 721, 2160))
    assert later is noon
    assert tomorrow.minutes[-1] == noon.minutes[-1] + 1440


def test_a_temperature_no_shop_has_is_refused():
    with pytest.raises(Refused, match="temperature is 400 °C; it can't be above 300 °C"):
        Profile.of([(0, 400)])


def test_moments_keep_their_offset():
    minute = minute_of(datetime(2026, 5, 14, 7, 20, tzinfo=UTC))
    assert moment_of(minute, VIENNA).isoformat() == "2026-05-14T09:20:00+02:00"
    with pytest.raises(Refused, match="Europe/Nowhere"):
        zone_of("Europe/Nowhere")


def test_a_profile_gives_its_points_and_its_mean_over_a_span():
    profile = Profile.of([(0, 10), (60, 20), (120, 20)])
    assert profile.between(30, 90) == [(30, 15.0), (60.0, 20.0), (90, 20.0)]
    assert profile.mean(0, 120) == pytest.approx(17.5)
    assert profile.shifted(-3).at(30) == pytest.approx(12)
    assert (profile.at(-99), profile.at(999)) == (10, 20)  # held before the first and after the last
    assert Profile.of([(60, 1), (0, 5), (60, 2)]).at(60) == 2  # of two at one time the later given wins

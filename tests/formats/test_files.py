"""Files from loggers and section libraries: understood in their common forms, or refused by the line."""

from dataclasses import replace
from pathlib import Path

import pytest

from kiteloom.core.base.calendar import moment_of, zone_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.shape.section import section_girth
from kiteloom.formats.airfoil_dat import read_airfoil_dat
from kiteloom.formats.logger_csv import look_at, read_logger_csv

VIENNA = zone_of("Europe/Vienna")
EXPECTED = [("2026-05-14 16:30", 15.5), ("2026-05-14 17:00", 14.0)]


@pytest.mark.parametrize(
    "text",
    [
        "time,temperature °C\n2026-05-14 16:30,15.5\n2026-05-14 17:00,14\n",
        "2026-05-14T16:30,15.5\n2026-05-14T17:00,14",
        "\ufeffDate and time;Temp °C\r\n14.05.2026 16:30;15,5\r\n14.05.2026 17:00;14,0\r\n",
        "Time\tTemperature (F)\n2026/05/14 16:30\t59.9\n2026/05/14 17:00\t57.2\n",
        "no,temp_c,time\n1,15.5,2026-05-14T14:30:00Z\n2,14.0,2026-05-14T15:00:00Z\n",
        "time,temp °C\n2026-05-14 17:00,14\n2026-05-14 16:30,15.5\n2026-05-14 16:30,19\n2026-05-14 18:00,\n",
    ],
    ids=[
        "plain",
        "no header",
        "semicolons and decimal commas",
        "tabs, °F",
        "other order, UTC",
        "unsorted, repeated, a gap",
    ],
)
def test_a_loggers_file_is_understood(text):
    found = read_logger_csv(text, VIENNA)
    pairs = zip(found.minutes, found.celsius, strict=True)
    shown = [(moment_of(minute, VIENNA).strftime("%Y-%m-%d %H:%M"), round(celsius, 2)) for minute, celsius in pairs]
    assert shown == EXPECTED


@pytest.mark.parametrize(
    ("text", "named"),
    [
        ("", "0 rows; at least 1"),
        ("time,temp °C\n", "a header and 0 readings"),
        ("time,humidity\n2026-05-14 16:30,55\n", "named after a temperature"),
        ("time,temp °C\n2026-05-14 16:30,warm\n", "no row has a time and a number beside it; row 2 reads “2026-05-14"),
        ("what,else\nyesterday,14\n", "no row has a time and a number"),
        ("time,temp °C\n2026-05-14 16:30,150\n", "row 2: the temperature is 150 °C; it can't be above 70 °C"),
        ("time,temp °C\n2026-05-14 16:30\n", "no row has a time and a number"),
        ("time,temp °C\n2026-05-14 16:30,\n", "no row has a time and a number"),
    ],
)
def test_a_file_that_is_none_is_refused_by_its_row(text, named):
    with pytest.raises(Refused) as refused:
        read_logger_csv(text, VIENNA)
    assert named in refused.value.sentence


def test_the_real_week_that_comes_with_the_tests_is_read_whole():
    text = (Path(__file__).parents[1] / "data" / "logger-week.csv").read_text()
    found = read_logger_csv(text, VIENNA)
    assert (found.rows, len(found.minutes), found.repeated) == (169, 169, 0)
    assert found.celsius.min() == 10.6


def test_a_spring_night_with_a_missing_hour_still_runs_forward():
    text = "time,temp °C\n" + "\n".join(f"2026-03-29 0{hour}:00,{10 - hour}" for hour in range(5))
    minutes = read_logger_csv(text, VIENNA).minutes.tolist()
    assert minutes == sorted(set(minutes))


NOSE_ROUND = "A section\n1.0 0.002\n0.5 0.08\n0.1 0.06\n0.0 0.0\n0.1 -0.03\n0.5 -0.02\n1.0 -0.002\n"
TWO_LISTS = "A section\n4. 4.\n0 0\n0.1 0.06\n0.5 0.08\n1 0.002\n\n0 0\n0.1 -0.03\n0.5 -0.02\n1 -0.002\n"
PERCENT = "A section\n100, 0.2\n50, 8\n10, 6\n0, 0\n10, -3\n50, -2\n100, -0.2\n"


BLANK = "A section\n0 0\n0.1 0.06\n0.5 0.08\n1 0.002\n\n0 0\n0.1 -0.03\n0.5 -0.02\n1 -0.002\n"
LOWER_FIRST = "A section\n0 0\n0.1 -0.03\n0.5 -0.02\n1 -0.002\n\n1 0.002\n0.5 0.08\n0.1 0.06\n0 0\n"
FROM_THE_NOSE = "A section\n0 0\n0.1 0.06\n0.5 0.08\n1 0.002\n1 -0.002\n0.5 -0.02\n0.1 -0.03\n0 0\n"
COLUMNS = "A section\n0; 0; 0\n0.1; 0.06; -0.03\n0.5; 0.08; -0.02\n1; 0.002; -0.002\n"
IN_MM = "A section\n" + "\n".join(
    " ".join(f"{float(cell) * 1200:g}" for cell in row.split()) for row in NOSE_ROUND.splitlines()[1:]
)
LAYOUTS = {
    "one line": NOSE_ROUND,
    "two lists": TWO_LISTS,
    "percent": PERCENT,
    "apart by a line": BLANK,
    "lower first": LOWER_FIRST,
    "from the nose": FROM_THE_NOSE,
    "three columns": COLUMNS,
    "in millimetres": IN_MM,
}


@pytest.mark.parametrize("text", LAYOUTS.values(), ids=LAYOUTS.keys())
def test_a_section_file_is_understood(text):
    read = read_airfoil_dat(text)
    expected = read_airfoil_dat(NOSE_ROUND).section
    assert read.section.name == "A section"
    for side in ("upper", "lower"):
        assert section_girth(read.section, side) == pytest.approx(section_girth(expected, side))
    assert ("percent" in read.note) == (text is PERCENT)


@pytest.mark.parametrize(
    ("text", "named"),
    [
        ("two\n1 0\n0 0\n", "2 points; at least 5"),
        ("", "0 points; at least 5"),
        ("x\n1 0\n0.5 0.1\n0 zero\n", "line 4: “0 zero” isn't a pair"),
        ("x\n1 0\n0.5\n", "line 3: “0.5” has 1 number"),
        ("x\n1 0\n0.7 0.2\n0.3 -0.05\n0 0\n0.3 0.05\n0.7 -0.1\n1 0\n", "below the lower"),
        ("x\n0.5 0\n0.3 0.08\n0 0\n0.3 -0.05\n0.5 0\n", "from the nose at 0 to the trailing edge at 1"),
        ("x\n1 0\n0.5 0.9\n0 0\n0.5 -0.05\n1 0\n", "y = 0.9"),
        ("x\n1 0\n0.5 0\n0 0\n0.5 0\n1 0\n", "thickness of 0"),
        ("x\n1 nan\n0.5 0\n0 0\n0.5 0\n1 0\n", "not an ordinary number"),
    ],
)
def test_a_section_file_that_cannot_be_a_section_is_refused(text, named):
    with pytest.raises(Refused) as refused:
        read_airfoil_dat(text)
    assert named in refused.value.sentence


@pytest.mark.parametrize(
    ("rows", "understood"),
    [
        ("when,°C\n5/14/2026 4:30 PM,15.5\n5/14/2026 5:00 PM,14\n", EXPECTED),
        ("Date,Time,Temp\n14-05-26,16:30,15.5\n14-05-26,17:00,14\n", EXPECTED),
        ("id;°F;humidity;Date/Time\nx;59.9;50;2026-05-14T16:30:00\ny;57.2;50;2026-05-14T17:00:00\n", EXPECTED),
        (
            "Serial 4711\nSite: boathouse\n\nTime,Temp (C)\n2026-05-14 16:30,15.5 °C\n2026-05-14 17:00,57.2 °F\n",
            EXPECTED,
        ),
        ("zeit\ttemperatur\n14.05.2026 16:30:00\t15,5\n14.05.2026 17:00:00\t14,0\n", EXPECTED),
        ("stamp,celsius\n2026-05-14T10:30:00-04:00,15.5\n2026-05-14T15:00:00+00:00,14\n", EXPECTED),
    ],
    ids=["half days", "date and time apart", "any order", "lines above, units in cells", "tabs", "offsets"],
)
def test_more_loggers_are_understood(rows, understood):
    found = read_logger_csv(rows, VIENNA)
    pairs = zip(found.minutes, found.celsius, strict=True)
    shown = [(moment_of(minute, VIENNA).strftime("%Y-%m-%d %H:%M"), round(celsius, 2)) for minute, celsius in pairs]
    assert shown == understood


def test_what_a_clock_without_an_offset_means_can_be_said():
    text = "time,temp °C\n2026-07-01 12:00,20\n2026-07-01 13:00,21\n"
    layout = look_at(text).layout
    hours = {}
    for clock in ("shop", "winter", "utc"):
        found = read_logger_csv(text, VIENNA, replace(layout, clock=clock))
        hours[clock] = moment_of(found.minutes[0], VIENNA).hour
    assert hours == {"shop": 12, "winter": 13, "utc": 14}


def test_a_logger_whose_clock_was_set_back_says_in_which_row():
    text = "time,temp °C\n2026-05-14 10:00,15\n2026-05-14 11:00,16\n2026-05-14 08:30,12\n2026-05-14 09:30,13\n"
    found = read_logger_csv(text, VIENNA)
    assert found.went_back == ("row 4 lies 2.5 h before the row above it",)
    assert len(found.minutes) == 4
    assert (found.minutes[1:] > found.minutes[:-1]).all()

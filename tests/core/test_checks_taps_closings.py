"""Readings, taps and closings in the core: each against the same said another way."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.jobs import examples

from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import parse, show
from kiteloom.core.build.checks import MEASURES, Check, Point, judged, line_of, moved_words, odd_reading
from kiteloom.core.build.closing import Line, Noted, closing, looks_at
from kiteloom.core.build.coin_tap import MOST_ACROSS, MOST_ALONG, Grid, covered, grid_of
from kiteloom.core.build.twist import twist_check
from kiteloom.core.shape.flat import StripAt, Strips
from kiteloom.core.shape.loft import Loft, Station
from kiteloom.core.shape.section import naca4

ROW = st.lists(st.tuples(st.floats(1, 5000), st.one_of(st.none(), st.floats(-8, 8))), min_size=1, max_size=10)


@settings(max_examples=examples(150), deadline=None)
@given(rows=ROW, low=st.floats(-5, 0), high=st.floats(0, 5), kind=st.sampled_from(sorted(MEASURES)))
def test_a_reading_holds_exactly_within_its_tolerance_and_the_worst_is_named(rows, low, high, kind):
    check = Check(kind, tuple(Point(f"p{n}", nominal) for n, (nominal, _) in enumerate(rows)), low, high)
    found = [None if off is None else nominal + off for nominal, off in rows]
    said = judged(check, found)
    for row, (_, off) in zip(said.rows, rows, strict=True):
        if off is None:
            assert (row.holds, row.off) == (True, None)
        elif low + 1e-6 < off < high - 1e-6:
            assert row.holds
        elif off < low - 1e-6 or off > high + 1e-6:
            assert not row.holds
    wrong = [row for row in said.rows if not row.holds]
    assert said.holds == (not wrong)
    if wrong:
        worst = max(wrong, key=lambda row: abs(row.off))
        name = worst.point.name.capitalize()
        ties = {row.point.name.capitalize() for row in wrong if abs(row.off) == pytest.approx(abs(worst.off))}
        assert said.says[0].split(":")[0] in ties | {name}
    elif None not in found:
        assert "ithin tolerance" in said.says[0] or "within tolerance" in said.says[0]
    assert ("Together" in " ".join(said.says)) == (kind == "spacing" and len(rows) > 1 and None not in found)


@given(st.lists(st.tuples(st.floats(-2, 2), st.floats(-2, 2)), min_size=1, max_size=5), st.booleans())
def test_a_twist_that_moved_more_than_its_tolerance_is_asked_about_before_the_next_skin(pairs, to_come):
    check = Check("angle", tuple(Point(f"p{n}", 0.0) for n in range(len(pairs))), -0.25, 0.25)
    words = moved_words(check, *zip(*pairs, strict=True), "metric", to_come=to_come)
    most = max(abs(after - before) for before, after in pairs)
    assert ("find out why" in words) == (most > 0.25 + 1e-9)
    assert ("A like skin on the other side" in words) == (to_come and most > 1e-9)


def test_a_line_leans_by_the_metre_or_by_the_foot_as_the_shop_measures():
    string = Check("straightness", tuple(Point(f"p{n}", 0.0, float(n)) for n in range(3)), -9, 9)
    told = [" ".join(judged(string, [0.0, 6.0, 12.0], units).says) for units in ("metric", "us")]
    assert "The line leans 6.00 mm a metre" in told[0]
    assert "The line leans 0.072 in a foot" in told[1]  # 6 mm/m is 1.829 mm a foot


def test_a_panel_is_asked_at_its_own_stations_against_its_widest():
    tailplane = [(0, 0.4, 0.0), (1.3, 0.6, 1.0), (2.6, 0.4, 0.0)]
    wing = [(n * 0.5, 1.2 - 0.02 * n, -0.1 * n) for n in range(30)]
    rows = [
        twist_check(Loft(tuple(Station(at, chord, twist_deg=turn, section=naca4("0012")) for at, chord, turn in said)))
        for said in (tailplane, wing)
    ]
    assert [(place.name, place.nominal, place.at_m) for place in rows[0].points][::2] == [
        ("one end", -1.0, 0.0), ("place 3", 0.0, 1.3), ("other end", -1.0, 2.6),
    ]  # fmt: skip
    places = rows[1].points
    assert (len(places), places[0].name, places[-1].name) == (12, "root", "tip")
    assert (places[0].nominal, places[-1].nominal, places[-1].at_m) == (0.0, -2.9, 14.5)
    flat = twist_check(Strips((StripAt(0, 0.3), StripAt(2.0, 0.2))))
    assert [(place.nominal, place.at_m) for place in flat.points] == [(0.0, 0.0), (0.0, 1.0), (0.0, 2.0)]


@settings(max_examples=examples(100), deadline=None)
@given(
    slope=st.floats(-2, 2),
    start=st.floats(-3, 3),
    ats=st.lists(st.integers(0, 90), min_size=3, max_size=8, unique=True),
    bump=st.floats(0.5, 3),
)
def test_a_line_through_stations_finds_the_slope_and_the_place_that_leaves_it(slope, start, ats, bump):
    points = [Point(f"p{n}", 1.0, at / 10) for n, at in enumerate(sorted(ats))]
    straight = [1.0 + start + slope * point.at_m for point in points]
    found = line_of(points, straight)
    assert found[:2] == pytest.approx((slope, start), abs=1e-6)
    if len(points) >= 5:
        middle = len(points) // 2
        bent = [value + (bump if n == middle else 0) for n, value in enumerate(straight)]
        assert line_of(points, bent)[2] == middle


def test_a_line_needs_three_stations_that_lie_somewhere():
    points = [Point("a", 0, 0), Point("b", 0, 1), Point("c", 0, None)]
    assert line_of(points, [0.0, 0.1, 0.2]) is None
    assert line_of([Point("a", 0, 1), Point("b", 0, 1), Point("c", 0, 1)], [0.0, 0.1, 0.2]) is None
    assert line_of([*points[:2], Point("c", 0, 2)], [0.0, None, 0.2]) is None


@pytest.mark.parametrize(
    ("kind", "nominal", "found", "asks"),
    [
        ("length", 1346.0, 53.0, "25 times less"),
        ("length", 53.0, 1346.0, "25 times more"),
        ("length", 900.0, 90.0, "10 times less"),
        ("length", 900.0, 895.0, ""),
        ("length", 900.0, 300.0, ""),
        ("length", 0.0, 40.0, ""),
        ("torque", 12.0, 144.0, "12 times more"),
        ("weight", 100.0, 2835.0, "28 times more"),
        ("angle", -2.0, 2.0, ""),
    ],
)
def test_a_reading_of_another_unit_is_asked_about(kind, nominal, found, asks):
    said = odd_reading(Check(kind, (Point("it", nominal),), -1, 1), [found])
    assert (said == "") == (asks == "")
    assert asks in said


def test_before_and_after_say_the_most_that_moved_and_only_a_twist_is_foretold():
    places = (Point("root", 0.0, 0), Point("tip", -2.0, 7.2), Point("lost", 0, 3))
    twist = Check("angle", places, -0.25, 0.25)
    words = moved_words(twist, [0.0, -2.0, None], [0.1, -1.5, 0.4], "metric")
    assert words.startswith("Tip has moved by 0.50°, from -2.00° to -1.50°.")
    assert "expect about -2.00° there" in words
    assert "like skin" not in moved_words(Check("gap", places, 0, 1), [0, 1, None], [0, 2, None], "metric")
    assert moved_words(twist, [None] * 3, [0, 0, 0], "metric") == ""


@pytest.mark.parametrize("units", ["metric", "us"])
@pytest.mark.parametrize("kind", sorted(MEASURES))
def test_what_a_check_shows_can_be_typed_again_in_the_units_of_the_shop(kind, units):
    measure = MEASURES[kind]
    unit = measure.asked.unit_for(units)
    value = {"moisture": 11.0, "hardness": 42.0, "vacuum": 820.0}.get(kind, 12.5)
    back = parse(show(value, measure.shows, units), measure.asked.dimension, unit) / measure.asked.scale
    assert back == pytest.approx(value, rel=0.07)
    assert measure.asked.within("found", value) == value


@settings(max_examples=examples(100), deadline=None)
@given(
    length=st.floats(0.02, 20),
    width=st.floats(0.002, 1),
    cells=st.sets(st.tuples(st.integers(0, 59), st.integers(0, 3))),
)
def test_what_holds_is_what_is_not_void_and_the_longest_void_runs_along_the_line(length, width, cells):
    grid = grid_of(length, width)
    assert 3 <= grid.along <= MOST_ALONG
    assert 1 <= grid.across <= MOST_ACROSS
    inside = {(a, b) for a, b in cells if a < grid.along and b < grid.across}
    found = covered(grid, inside)
    assert found.pct == pytest.approx(100 * (grid.cells - len(inside)) / grid.cells)
    dull = "".join("x" if any((n, row) in inside for row in range(grid.across)) else "." for n in range(grid.along))
    assert found.longest == max(len(run) for run in dull.split("."))
    if cells - inside:
        with pytest.raises(Refused, match="the joint has"):
            covered(grid, cells)


KINDS = st.sampled_from(("add", "done", "not needed", "open", "sign", "reopen", "asked", "seen"))


@settings(max_examples=examples(150), deadline=None)
@given(rows=st.lists(st.tuples(KINDS, st.integers(0, 4), st.sampled_from(("bo", "imre"))), max_size=20))
def test_a_closing_is_what_was_noted_last_of_each_line_and_signed_until_it_is_opened(rows):
    notes = [
        Noted(f"n{n}", kind, f"l{line}" if kind in ("add", "done", "not needed", "open") else "", f"why {n}", who)
        for n, (kind, line, who) in enumerate(rows)
    ]
    found = closing([Line("l0", "Drill"), Line("l1", "Varnish", "done")], notes)
    keys = [
        "l0",
        "l1",
        *dict.fromkeys(note.line for note in notes if note.kind == "add" and note.line not in ("l0", "l1")),
    ]
    assert [line.key for line in found.lines] == keys
    for line in found.lines:
        start = next((n for n, note in enumerate(notes) if note.kind == "add" and note.line == line.key), -1)
        mine = [
            note for n, note in enumerate(notes) if note.line == line.key and (line.key in ("l0", "l1") or n > start)
        ]
        told = [note for note in mine if note.kind in ("done", "not needed", "open")]
        assert line.state == (told[-1].kind if told else "done" if line.key == "l1" else "open")
    signs = [note for note in notes if note.kind in ("sign", "reopen")]
    assert found.signed == (signs[-1].id if signs and signs[-1].kind == "sign" else "")
    assert set(found.left) == {line for line in found.lines if line.state == "open"}


CREW = st.sets(st.sampled_from("abcd"), min_size=1)


@settings(max_examples=examples(150), deadline=None)
@given(crew=CREW, hands=st.lists(st.sets(st.sampled_from("abcd")), max_size=6), order=st.permutations("abcd"))
def test_every_line_is_looked_at_by_somebody_who_did_not_do_it_unless_all_did(crew, hands, order):
    """Whoever signs, in any order: nobody looks at a line of their own while somebody else could."""
    lines = [Line(f"l{n}", f"Line {n}", "done", hands=frozenset(mine)) for n, mine in enumerate(hands)]
    notes: list[Noted] = []
    for who in [person for person in order if person in crew]:
        found = closing(lines, notes)
        try:
            mine = looks_at(found, who, crew)
        except Refused:
            continue
        notes += [Noted(f"{who}{key}", "sign", key, by=who) for key in mine]
        if len({note.line for note in notes}) == len(lines):
            notes.append(Noted(who, "sign", by=who))
    found = closing(lines, notes)
    assert found.signed  # with all of the crew asked, nothing is left
    for line in lines:
        assert found.looked[line.key] not in line.hands or crew <= line.hands


def test_what_is_open_or_signed_is_not_signed_and_what_changes_is_looked_at_again():
    line = Line("a", "Drill")
    with pytest.raises(Refused, match="1 of 1 lines are open: first “Drill”"):
        looks_at(closing([line], []), "imre", {"bo", "imre"})
    did = [Noted("d", "done", "a", by="bo")]
    with pytest.raises(Refused, match="somebody else than who did the work"):
        looks_at(closing([line], did), "bo", {"bo", "imre"})
    assert looks_at(closing([line], did), "bo", {"bo"}) == ("a",)
    looked = [*did, Noted("s", "sign", "a", by="imre")]
    assert closing([line], [*looked, Noted("o", "open", "a"), *did]).looked == {}
    with pytest.raises(Refused, match="signed already"):
        looks_at(closing([line], [*looked, Noted("t", "sign", by="imre")]), "sanna", {"bo", "sanna"})


def test_an_empty_grid_or_one_too_large_is_refused():
    for grid in (Grid(0, 1), Grid(61, 1), Grid(5, 5)):
        with pytest.raises(Refused):
            covered(grid, [])

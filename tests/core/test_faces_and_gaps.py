"""Faces as they are made ready and spoil, and gaps of a dry fit: against the same said another way."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.jobs import examples

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.bond_line import Gap, gaps_checked, thickness_mm, too_wide
from kiteloom.core.build.faces import (
    ALL,
    BARE_AFTER_MIN,
    FACES,
    READY_MIN,
    TOUCHED,
    barrier_between,
    face_now,
    moisture,
    moisture_says,
    treatments,
)


def ready_since(face, wet, done, now):
    """When a face became ready, None where it is not: looked for backwards, as one would in the book."""
    keys = [one.key for one in treatments(face, wet=wet)]
    events = [(key, at) for key, at in done if key in (*keys, TOUCHED)]
    for last in range(len(events) - 1, -1, -1):
        if events[last][0] == TOUCHED:
            return None
        if events[last][0] != keys[-1]:
            continue
        # Back from the last treatment: each one before it, none touched in between, none done again after it.
        want, at = len(keys) - 2, last - 1
        while want >= 0 and at >= 0 and events[at][0] != TOUCHED:
            if events[at][0] == keys[want]:
                want -= 1
            elif keys.index(events[at][0]) <= want:
                return None  # something earlier was done once more, and what follows it was not
            at -= 1
        if want >= 0:
            return None
        tail = [key for key, _ in events[last + 1 :]]
        return None if tail else events[last][1]
    return None


LIST = st.lists(st.tuples(st.integers(0, 3), st.integers(1, 90)), max_size=9)


@settings(max_examples=examples(200), deadline=None)
@given(face=st.sampled_from(FACES), wet=st.booleans(), rows=LIST, later=st.integers(0, 2000))
def test_a_face_is_ready_after_its_treatments_in_order_and_for_its_hours_only(face, wet, rows, later):
    keys = [one.key for one in treatments(face, wet=wet)]
    at, done = 0.0, []
    for n, gap in rows:
        at += gap
        done.append((keys[n] if n < len(keys) else TOUCHED, at))
    now = at + later
    found = face_now(face, done, now, wet=wet)
    since = ready_since(face, wet, done, now)
    if found.state == "ready":
        assert found.until == found.until
        assert found.until >= now
        assert found.next is None
        assert found.counts == set(keys)
    else:
        assert found.next is not None
        assert found.words(str)
    # Nothing is nearer than an hour and a half apart, so no treatment lapses between two of the list.
    if since is not None:
        assert (found.state == "ready") == (now <= since + READY_MIN[face])
        if found.state != "ready":
            assert found.state == ("bare" if now - since - READY_MIN[face] > BARE_AFTER_MIN else "expired")


@pytest.mark.parametrize(
    ("face", "done", "now", "state", "words"),
    [
        ("cured laminate", [], 0, "bare", "bare; first: wash the blush off with water"),
        ("cured laminate", [("abrade", 0), ("wash", 10)], 20, "under way", "washed; next: abrade it until"),
        ("aluminium", [("degrease", 0), ("abrade", 5), ("wipe", 9)], 100, "ready", "ready until 129"),
        ("aluminium", [(ALL, 0)], 121, "expired", "expired: it was ready until 120; first: degrease it"),
        ("aluminium", [(ALL, 0)], 121 + BARE_AFTER_MIN, "bare", "bare: it was ready until 120"),
        ("steel", [("strip", 0), ("abrade", 5), ("wipe", 9), (TOUCHED, 10)], 11, "contaminated", "contaminated; first"),
        ("wood", [("cut", 0), ("moisture", 1), ("dust", 2), ("cut", 30)], 31, "under way", "cut fresh; next: read"),
        # Wiped once more before it lapses, it stays ready longer; after, it all begins again.
        ("carbon", [("wash", 0), ("abrade", 5), ("wipe", 9), ("wipe", 200)], 400, "ready", "ready until 440"),
        ("carbon", [("wash", 0), ("abrade", 5), ("wipe", 9), ("wipe", 300)], 301, "bare", "It was wiped before it was"),
    ],
)
def test_how_a_face_is_said(face, done, now, state, words):
    found = face_now(face, done, now)
    assert found.state == state
    assert words in found.words(lambda at: f"{at:g}")


def test_what_must_last_in_the_wet_is_etched_and_a_face_there_is_not_is_refused():
    dry, wet = (treatments("aluminium", wet=one) for one in (False, True))
    assert [one.key for one in wet] == [*(one.key for one in dry), "etch"]
    assert face_now("aluminium", [(one.key, n) for n, one in enumerate(dry)], 5, wet=True).next.key == "etch"
    for other in ("carbon", "wood", "steel"):
        assert treatments(other) == treatments(other, wet=True)
    with pytest.raises(Refused, match="“glass” is no face"):
        treatments("glass")
    with pytest.raises(Refused, match="they are"):
        barrier_between("wood", "tin")


@pytest.mark.parametrize(
    ("one", "other", "says"),
    [
        (9.0, 11.0, ""),
        (None, None, ""),
        (10.0, None, ""),
        (8.0, 12.0, "The two sides differ by 4 % moisture"),
        (13.0, 12.0, "Moisture is 13 %; wood is glued at 8 to 12 %: dry it first."),
        (9.0, 6.0, "let it take up damp first."),
    ],
)
def test_the_moisture_of_both_sides_is_compared(one, other, says):
    said = moisture_says(one, other)
    assert (said == "") == (says == "")
    assert says in said


@pytest.mark.parametrize("pct", [1.9, 61, float("nan")])
def test_no_meter_reads_such_a_moisture(pct):
    with pytest.raises(Refused):
        moisture(pct)


GAPS = st.lists(st.tuples(st.floats(0, 10), st.floats(0, 12)), min_size=1, max_size=8)


@settings(max_examples=examples(150), deadline=None)
@given(rows=GAPS, thick=st.floats(0.1, 5))
def test_the_mean_thickness_is_that_of_a_fine_sum_along_the_joint(rows, thick):
    length = 10.0
    gaps = [Gap(at, gap) for at, gap in {round(at, 2): gap for at, gap in rows}.items()]
    found = gaps_checked(gaps, length)
    assert [gap.at_m for gap in found] == sorted(gap.at_m for gap in found)
    at = np.linspace(0, length, 40_001)
    wide = np.interp(at, [gap.at_m for gap in found], [gap.gap_mm for gap in found])
    fine = np.trapezoid(np.maximum(wide, thick), at) / length
    mean = thickness_mm(thick, found, length)
    assert mean == pytest.approx(fine, rel=2e-3, abs=1e-4)
    assert mean >= thick - 1e-9


@pytest.mark.parametrize(
    ("gaps", "says"),
    [
        ([Gap(-0.1, 1)], "it can't be below 0 m"),
        ([Gap(2.1, 1)], "it can't be above 2 m"),
        ([Gap(1, -1)], "the gap is -1 mm"),
        ([Gap(1, 51)], "it can't be above 50 mm"),
        ([Gap(1, 1), Gap(0.5, 2), Gap(1, 3)], "two gaps are at 1 m"),
        ([Gap(float("nan"), 1)], "along the joint"),
    ],
)
def test_gaps_that_can_not_be_are_refused(gaps, says):
    with pytest.raises(Refused, match=says):
        gaps_checked(gaps, 2.0)


def test_what_is_too_wide_is_named_and_no_gap_at_all_is_as_planned():
    gaps = [Gap(0, 0.5), Gap(1, 3.0), Gap(2, 3.1)]
    assert too_wide(gaps, 3.0) == (Gap(2, 3.1),)
    assert thickness_mm(0.7, [], 2.0) == 0.7

"""Buying against brute force, ledgers that always add up, threads by their standards, sheets over ribs by hand."""

import itertools
import math
from datetime import date, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.jobs import examples

from kiteloom.core.base.problems import Refused
from kiteloom.core.need.buying import Bought, Held, Pack, Wanted, cheapest, line_of, lines_of, served
from kiteloom.core.need.parcels import Seller, bundled
from kiteloom.core.need.pitch import over_ribs
from kiteloom.core.stores.arrivals import Looks, Thread, arrived, thread_of
from kiteloom.core.stores.ledger import Event, ledger, shared
from kiteloom.core.stores.packs import packs_of

TODAY = date(2026, 5, 14)
AMOUNTS = st.sampled_from([0.37, 0.5, 1, 1.28, 2, 2.5, 3, 5, 6.4])
PRICES = st.sampled_from([0.0, 0.99, 1, 2, 2.5, 4, 6.75, 10, 31])
PACKS = st.lists(st.builds(Pack, AMOUNTS, PRICES, st.sampled_from([0, 3, 9])), min_size=1, max_size=4)


def tried_all(short, packs):
    """Cost, left over and longest lead of the best cover, every number of every pack tried."""
    best = None
    for counts in itertools.product(*(range(math.ceil(short / pack.amount) + 1) for pack in packs)):
        amount = sum(count * pack.amount for count, pack in zip(counts, packs, strict=True))
        if amount < short - 1e-9:
            continue
        cost = sum(count * pack.price for count, pack in zip(counts, packs, strict=True))
        found = (round(cost, 6), round(amount - short, 6), Bought(counts, 0, 0).lead_days(packs))
        best = found if best is None or found < best else best
    return best


# Source: brute force.
@settings(max_examples=examples(120), deadline=None)
@given(st.floats(0.05, 8).map(lambda short: round(short, 3)), PACKS)
def test_no_packs_are_cheaper_than_those_that_are_found(short, packs):
    found = cheapest(short, packs)
    amount = sum(count * pack.amount for count, pack in zip(found.counts, packs, strict=True))
    assert amount >= short - 1e-9
    assert (round(found.cost, 6), round(found.left_over, 6), found.lead_days(packs)) == tried_all(short, packs)


# Source: brute force over a coarser grid; found there by whole-number programming instead.
def test_packs_of_awkward_sizes_are_found_too():
    packs = [Pack(0.001, 1), Pack(7.3, 5)]
    found = cheapest(12_345.678, packs)
    large = min(range(1_650, 1_700), key=lambda n: 5 * n + max(0, math.ceil((12_345.678 - 7.3 * n) / 0.001 - 1e-6)))
    assert found.counts[1] == large
    assert found.cost == pytest.approx(5 * large + found.counts[0])


# Source: brute force: each choice of who sells what, parcels added.
@settings(max_examples=examples(60), deadline=None)
@given(st.lists(st.floats(0.5, 4).map(lambda x: round(x, 2)), min_size=1, max_size=3), st.data())
def test_parcels_count_when_it_is_chosen_who_sells(short, data):
    sellers = [Seller("a", 9.8, 40.0), Seller("b", 14.5), Seller("c", 3.0, 10.0)]
    offered = st.lists(st.tuples(st.sampled_from("abc"), st.builds(Pack, AMOUNTS, PRICES)), min_size=1, max_size=3)
    packs = [data.draw(offered) for _ in short]
    found = bundled(short, packs, sellers)
    costs = []
    for many in range(1, 4):
        for chosen in itertools.combinations(sellers, many):
            names, goods, total = {one.name for one in chosen}, dict.fromkeys("abc", 0.0), 0.0
            for amount, row in zip(short, packs, strict=True):
                there = [(name, pack) for name, pack in row if name in names]
                if not there:
                    break
                bought = cheapest(amount, [pack for _, pack in there])
                total += bought.cost
                for (name, pack), count in zip(there, bought.counts, strict=True):
                    goods[name] += count * pack.price
            else:
                costs.append(total + sum(one.parcel(goods[one.name]) for one in sellers))
    assert (found.cost if found else None) == (pytest.approx(min(costs)) if costs else None)


@settings(max_examples=examples(80), deadline=None)
@given(
    st.lists(st.tuples(st.floats(0.1, 9), st.integers(-3, 40)), min_size=1, max_size=8),
    st.lists(st.tuples(st.floats(0, 9), st.one_of(st.none(), st.integers(-5, 40))), max_size=5),
)
def test_what_is_there_serves_the_first_first_and_never_after_it_expired(needs, stock):
    wanted = [Wanted(amount, TODAY + timedelta(days)) for amount, days in needs]
    held = [Held(amount, None if days is None else TODAY + timedelta(days)) for amount, days in stock]
    missing = served(wanted, held, TODAY)
    short = sum(amount for amount, _ in missing)
    assert short >= sum(one.amount for one in wanted) - sum(one.amount for one in held) - 1e-6
    # With nothing that expires it is the plain difference, and the later a need the more it lacks.
    fresh = served(wanted, [Held(one.amount) for one in held], TODAY)
    plain = max(sum(one.amount for one in wanted) - sum(one.amount for one in held), 0)
    assert sum(amount for amount, _ in fresh) == pytest.approx(plain, abs=1e-6)
    assert short >= plain - 1e-6
    late = [amount for one, (amount, _) in zip(wanted, missing, strict=True) if all(
        h.expires is not None and h.expires < max(one.day, TODAY) for h in held)]  # fmt: skip
    assert late == [one.amount for one in wanted if all(
        h.expires is not None and h.expires < max(one.day, TODAY) for h in held)]  # fmt: skip


def test_it_is_ordered_by_the_first_day_that_lacks_it_less_the_longest_lead():
    wanted = [Wanted(2, date(2026, 5, 20)), Wanted(5, date(2026, 6, 1))]
    line = line_of(TODAY, wanted, [Held(3)], [Pack(1, 10, 2), Pack(4, 20, 12)])
    assert (line.short, line.bought.counts, line.bought.cost) == (4, (0, 1), 20)
    assert (line.order_by, line.late_days) == (date(2026, 5, 20), 0)
    late = line_of(TODAY, [Wanted(2, date(2026, 5, 1))], [], [Pack(1, 10, 3)], margin_days=2)
    assert (late.order_by, late.late_days) == (date(2026, 5, 9), 5)  # a need in the past counts as today's
    # Good on the day it expires, and not on the next.
    assert line_of(TODAY, [Wanted(1, date(2026, 5, 20))], [Held(1, date(2026, 5, 20))], []) is None
    with pytest.raises(Refused, match="no pack of it is known"):
        line_of(TODAY, [Wanted(1, date(2026, 5, 21))], [Held(1, date(2026, 5, 20))], [])


@settings(max_examples=examples(100), deadline=None)
@given(
    st.lists(st.tuples(st.floats(0.1, 9).map(lambda x: round(x, 2)), st.integers(0, 300)), min_size=1, max_size=8),
    PACKS,
    st.one_of(st.none(), st.integers(1, 120)),
    st.one_of(st.none(), st.integers(1, 90)),
)
def test_bought_in_several_times_it_serves_all_and_nothing_that_it_does_not_keep_for(needs, packs, ahead, keeps):
    wanted = [Wanted(amount, TODAY + timedelta(days)) for amount, days in needs]
    lines = lines_of(TODAY, wanted, [], packs, 2, ahead, keeps)
    assert [line.first for line in lines] == sorted({line.first for line in lines})
    # Each time comes two days before its first day, and keeps from then on; what is late comes today at the soonest.
    held = []
    for line in lines:
        amount = sum(count * pack.amount for count, pack in zip(line.bought.counts, packs, strict=True))
        until = None if keeps is None else max(line.first - timedelta(2), TODAY) + timedelta(keeps)
        held.append(Held(amount, max(until, line.first) if until else None))
    assert sum(amount for amount, _ in served(wanted, held, TODAY)) == pytest.approx(0, abs=1e-6)
    if ahead is None and keeps is None:
        assert len(lines) == 1
    lead = max(pack.lead_days for pack in packs) + 2
    for line, later in itertools.pairwise(lines):
        if keeps is None:  # the next time is beyond what is bought ahead, and need not be ordered yet
            assert (later.first - line.first).days > ahead
            assert (later.first - TODAY).days > lead


@pytest.mark.parametrize(
    ("pack", "words"),
    [((0, 1), "a pack’s amount is 0; it must be above 0"), ((1, -1), "a pack’s price is -1"),
     ((1, 1, -2), "the days until it comes is -2 days")],
)  # fmt: skip
def test_a_pack_of_nothing_below_nothing_or_from_the_past_is_refused(pack, words):
    with pytest.raises(Refused, match=words):
        Pack(*pack)


EVENTS = st.lists(
    st.tuples(st.integers(1, 50), st.sampled_from(["came", "used", "thrown", "counted"]), st.integers(0, 500)),
    max_size=12,
)


@settings(max_examples=examples(200), deadline=None)
@given(st.integers(0, 1000), EVENTS)
def test_what_came_is_what_was_used_is_left_was_thrown_away_and_is_missing(first, rows):
    events = [Event(0, "came", first), *(Event(minute, kind, amount) for minute, kind, amount in rows)]
    book = ledger(events)
    assert book.came == pytest.approx(book.used + book.left + book.thrown + book.missing)
    last = max((e for e in events if e.kind == "counted"), key=lambda e: e.minute, default=None)
    if last is not None and sum(e.kind == "counted" and e.minute == last.minute for e in events) == 1:
        after = [e for e in events if e.minute > last.minute]
        gone = sum(e.amount for e in after if e.kind in ("used", "thrown"))
        assert book.left == last.amount + sum(e.amount for e in after if e.kind == "came") - gone


@settings(max_examples=examples(100), deadline=None)
@given(
    st.lists(st.integers(0, 300), min_size=1, max_size=4), st.lists(st.tuples(st.integers(1, 90), st.integers(0, 200)))
)
def test_what_several_lots_share_is_taken_whole_from_them_together(came, uses):
    lots = [[Event(0, "came", amount)] for amount in came]
    taken = shared(lots, [Event(minute, "used", amount) for minute, amount in uses])
    assert sum(e.amount for of in taken for e in of) == sum(amount for _, amount in uses)
    left = [ledger([*lot, *of]).left for lot, of in zip(lots, taken, strict=True)]
    assert all(amount >= 0 for amount in left[:-1])  # only the last may have less than nothing
    assert sum(left) == sum(came) - sum(amount for _, amount in uses)


# Source: ISO 261 (coarse) and ASME B1.1 (a number size is 0.060 in + 0.013 in × the number), from memory.
@pytest.mark.parametrize(
    ("text", "diameter_mm", "pitch_mm"),
    [("M5", 5, 0.8), ("m6 x 0,75", 6, 0.75), ("10-32", 4.826, 0.79375), ("#8-32", 4.1656, 0.79375),
     ("1/4-28", 6.35, 0.907), ("AN3", None, None), ("", None, None), ("1/0-28", None, None)],
)  # fmt: skip
def test_threads_are_read_as_bags_write_them(text, diameter_mm, pitch_mm):
    found = thread_of(text)
    assert found == (
        None if diameter_mm is None else Thread(pytest.approx(diameter_mm), pytest.approx(pitch_mm, abs=1e-3))
    )


def test_what_came_is_questioned_by_what_was_ordered_and_by_what_it_goes_through():
    bolt = Looks("M5", 25.0, "", "")
    assert arrived(bolt, bolt, [("Hinge", 15.0)]) == ()
    assert "neighbouring thread" in arrived(bolt, Looks("M6", 25.0))[0]
    assert "another pitch" in arrived(Looks("10-24"), Looks("10-32"))[0]
    assert "neighbouring" not in arrived(bolt, Looks("M12"))[0]
    assert arrived(Looks(hand="left"), Looks(hand="right")) == ("The right one came, and the left one was ordered.",)
    short = arrived(bolt, Looks("M5", 20.0), [("Hinge", 15.0)])
    assert short[0] == "It is 20.0 mm long, and 25.0 mm was ordered."
    assert "asks for 22.5 mm, and it is 20.0 mm long" in short[1]
    assert arrived(bolt, Looks()) == ()  # what nobody read is not asked about


@pytest.mark.parametrize(
    ("kind", "says", "found"),
    [
        ("laminating resin", {"packs": "1.28 kg, 6.4 kg", "price": "6.4 kg: 118"}, [(1280, None), (6400, 118)]),
        ("filler", {"packs": "2 × 0,5 kg; 2 × 5 kg"}, [(1000, None), (10000, None)]),
        ("solvent", {"packs": "1 l", "price": "14.50", "density_kg_m3": 790}, [(790, 14.5)]),
        ("tape", {"packs": "50 m", "width_mm": 40}, [(50, None)]),
        ("consumable", {"packs": "box of 50 pairs", "used_as": "gloves, pairs"}, [(50, None)]),
        ("cloth", {"packs": "roll of 20 m", "areal_weight_g_m2": 163, "roll_width_m": 1.0}, [(3260, None)]),
        ("cloth", {"packs": "a roll"}, []),
    ],
)
def test_packs_are_read_off_a_sheet_in_what_its_lots_are_counted_in(kind, says, found):
    read = [(pack.amount, pack.price) for pack in packs_of(kind, says)]
    assert read == [(pytest.approx(amount), price) for amount, price in found]


# Source: common practice: ribs every 12 in under 48 in ply waste nothing, every 15 in a fifth and more.
def test_a_sheet_that_the_pitch_divides_wastes_nothing():
    twelve, fifteen = over_ribs(96, 48, [12, 15])
    assert (twelve.sheets, twelve.ribs, twelve.waste_pct) == (2, 9, 0)
    assert (fifteen.used_m, fifteen.sheets, fifteen.ribs) == (45, 3, 8)
    assert fifteen.waste_pct == pytest.approx(100 / 3)
    with pytest.raises(Refused, match="has no second one to lie on"):
        over_ribs(5, 0.4, [0.5])

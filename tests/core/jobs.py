"""Jobs of a small shop, for the tests that walk plans: all that may hold a step, in any mixture."""

from __future__ import annotations

import os
from datetime import date, datetime

from hypothesis import strategies as st
from tests.core.tasks import EPOXY

from kiteloom.core.air.profile import Profile, day_curve
from kiteloom.core.base.calendar import Shift, WorkingHours, minute_of, zone_of
from kiteloom.core.build.step import USE_BY, After, Step
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.plan.input import Damp, Member, PlanInput, Station


def examples(count):
    """So many examples a test; ten times as many where new ones are looked for (HYPOTHESIS_PROFILE=search)."""
    return count * (10 if os.environ.get("HYPOTHESIS_PROFILE") == "search" else 1)


VIENNA = zone_of("Europe/Vienna")
DAYS = WorkingHours(VIENNA, tuple(Shift(d, 540, 1080) for d in range(6)))
ALWAYS = WorkingHours(VIENNA, tuple(Shift(d, 0, 1440) for d in range(7)))
WEEK_END = WorkingHours(VIENNA, (Shift(5, 480, 1320), Shift(6, 480, 1320)))
START = minute_of(datetime(2026, 5, 14, 9, 20, tzinfo=VIENNA))
#: What recipes ask for.
CRAFTS = frozenset({"layup", "woodwork", "bonding", "finishing"})
CREW = tuple(
    Member(name, skills)
    for name, skills in (
        ("Bo", frozenset({"bag"}) | CRAFTS),
        ("Imre", frozenset()),
        ("Odile", frozenset({"bag", "glue"})),
    )
)
LIFE = CureSystem(50, 23, (Stage(USE_BY, 0.75),))


def job(asked, profile=None, hours=DAYS, start=START, crew=CREW, **more):
    return PlanInput(tuple(asked), start, hours, profile or Profile.steady(20), crew, **more)


def at(text):
    return minute_of(datetime.fromisoformat(f"2026-05-{text}").replace(tzinfo=VIENNA))


@st.composite
def links(draw, made):
    """Links to some of the steps before, a few of them saying how soon."""
    found = []
    for j in draw(st.sets(st.integers(0, len(made) - 1), max_size=2)) if made else ():
        before = made[j]
        until = draw(st.sampled_from(["end", "wait"] + (["gel"] if before.cure else [])))
        how = draw(st.sampled_from(["any"] * 5 + ["soon", "window", "mix"]))
        more = {"soon": {"within_min": draw(st.sampled_from([0.0, 45.0, 300.0, 2000.0]))}}.get(how, {})
        if how == "window" and before.cure and until == "end":
            more = {"closes": "peel"}
        if how == "mix" and before.life:
            more = {"closes": USE_BY, "same_mix": True, "uses_min": draw(st.sampled_from([0.0, 20.0]))}
        found.append(After(before.key, until, **more))
    return tuple(found)


@st.composite
def jobs(draw, tight=True):
    """Any links backwards, waits, people of their own hours, stations, limits of air, and seasons."""
    made = []
    for i in range(draw(st.integers(1, 14))):
        cure = draw(st.sampled_from([None, None, EPOXY]))
        skills = draw(st.sampled_from([(), (), ("bag",), ("bag", "glue")]))
        found = draw(links(made))
        made.append(
            Step(
                f"s{i}",
                f"Step {i}",
                draw(st.integers(1, 260)),
                draw(st.integers(len(skills), 3)),
                found if tight else tuple(After(link.step, link.until) for link in found),
                cure,
                draw(st.sampled_from(["gel", "peel"])) if cure else None,
                draw(st.booleans()),
                skills=skills,
                stations=draw(st.sampled_from([(), (), ("bench",), ("pump",), ("bench", "pump"), ("cellar",)])),
                holds=draw(st.booleans()),
                wait_min=0 if cure else draw(st.sampled_from([0, 0, 90, 1500])),
                not_before=draw(st.sampled_from([None, None, None, START + 3000.0])),
                min_c=draw(st.sampled_from([None, None, None, 8])),
                max_c=draw(st.sampled_from([None, None, None, 24])),
                max_rh_pct=draw(st.sampled_from([None, None, None, 75])),
                margin_k=draw(st.sampled_from([None, None, None, 3])),
                limits_until=draw(st.sampled_from(["wait", "end"])),
                part=draw(st.sampled_from(["", "", "in the box", "outside"])),
                life=None if cure else LIFE,
            )
        )
    low = draw(st.floats(4, 16))
    start = START + 5 * draw(st.integers(0, 4000))
    profile = day_curve(low, low + draw(st.floats(2, 15)), START - 1440, 200)
    wave = day_curve(0, 45, START - 1440 + 12 * 60, 40)
    humid = Profile(wave.minutes, wave.celsius + 50)
    hours = WorkingHours(
        VIENNA,
        tuple(shift for d in range(6) for shift in (Shift(d, 540, 720), Shift(d, 765, draw(st.integers(1020, 1200))))),
        frozenset({date(2026, 5, 18)}),
    )
    odile = draw(st.sampled_from([{}, {"hours": WEEK_END}, {"away": ((START + 100.0, START + 5000.0),)}]))
    crew = (*CREW[:2], Member("Odile", CREW[2].skills, **odile))
    return job(
        made,
        profile,
        hours,
        start,
        crew,
        stations=(Station("bench", draw(st.integers(1, 2))), Station("pump"), Station("cellar", 1, "cool")),
        own={"in the box": Profile.steady(30), "outside": profile.shifted(-5)},
        zones={"cool": Profile.steady(11)},
        damp={"": Damp(humid, Profile(humid.minutes, (100 - humid.celsius) / 5))},
        overnight=draw(st.booleans()),
    )

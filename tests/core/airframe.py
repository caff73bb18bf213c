"""A generated airframe: so many steps of every recipe, on surfaces of many sizes, for a crew of six."""

from __future__ import annotations

import random
from dataclasses import replace

from tests.core.jobs import VIENNA, WEEK_END
from tests.core.test_skin import EPOXY, JOB

from kiteloom.core.air.profile import Profile
from kiteloom.core.base.calendar import Shift, WorkingHours
from kiteloom.core.build.gates import before_gates
from kiteloom.core.build.recipes import fill_fair, foam_core, paste_bond, sandwich_skin, spar_cap, varnish, wood_frame
from kiteloom.core.build.step import USE_BY, After
from kiteloom.core.cure.progress import CureSystem, Stage
from kiteloom.core.plan.input import Member, PlanInput, Station, Thing

HOURS = WorkingHours(VIENNA, tuple(Shift(d, 540, 1080) for d in range(6)))
SKILLS = ("layup", "woodwork", "bonding", "finishing")
GLUE = replace(EPOXY, stages=(Stage("gel", 3), Stage("handle", 9), Stage("sand", 16)))
COAT = CureSystem(50, 20, (Stage("recoat", 6), Stage("handle", 14), Stage("recoat closes", 60)), 7)
LIFE = CureSystem(50, 20, (Stage(USE_BY, 4),))


def surface(chance):
    """The steps of one surface, by a recipe drawn for it."""
    area, losses, plies = chance.uniform(0.4, 7), JOB.losses, JOB.stack.plies
    made = {
        "skin": lambda: sandwich_skin.steps(replace(JOB, area_m2=area)),
        "foam": lambda: foam_core.steps(foam_core.FoamJob(area, area * 0.95, plies, 120, EPOXY, 1.15, losses)),
        "cap": lambda: spar_cap.steps(spar_cap.CapJob(area, 0.06, plies, EPOXY, 1.15, losses)),
        "frame": lambda: wood_frame.steps(
            wood_frame.FrameJob(chance.randint(2, 14), 8, GLUE, chance.randint(0, 3), chance.randint(0, 2))
        ),
        "coats": lambda: varnish.steps(varnish.CoatJob(chance.randint(2, 20), area / 3, COAT, 30, LIFE)),
        "bond": lambda: paste_bond.steps(
            paste_bond.BondJob(area, 0.03, 1, "cured laminate", "carbon", GLUE, 1.2, losses, closes=True)
        ),
        "fair": lambda: fill_fair.steps(fill_fair.FairJob(area, 2, chance.random() < 0.5, GLUE, losses)),
    }
    return made[chance.choice(list(made))]()


def airframe(count, start, profile, seed=1, **more):
    """A job of so many steps; a surface in three is built from one before it."""
    chance = random.Random(seed)
    steps, ends, things, n = [], [], [], 0
    while len(steps) < count:
        part = f"surface {n}"
        mine = [step.of_part(part) for step in surface(chance)][: count - len(steps)]
        if ends and chance.random() < 0.33:
            mine[0] = replace(mine[0], after=(*mine[0].after, After(chance.choice(ends))))
        if any(step.way for step in mine):
            things.append(Thing(part, part, part=part))
        steps += mine
        ends.append(mine[-1].key)
        n += 1
    crew = [Member(name, frozenset(SKILLS)) for name in ("Bo", "Imre", "Odile", "Sanna")]
    crew += [Member("Teo", frozenset(SKILLS[1:]), WEEK_END)]
    crew += [Member("Vera", frozenset(SKILLS), away=((start + 7_000, start + 7_000 + 61 * 1440),))]
    stations = [Station(name, 3) for name in ("vacuum pump", "bench", "wing stands")]
    stations += [Station("jig", 2), Station("drying stand", 2), Station("cap mould")]
    stations += [Station("cool room", 1, "cellar"), Station("hot box", 1, "box")]
    zones = {"cellar": Profile.steady(14), "box": Profile.steady(45)}
    return PlanInput(
        before_gates(steps),
        start,
        HOURS,
        profile,
        tuple(crew),
        tuple(stations),
        zones=zones,
        things=tuple(things),
        **more,
    )

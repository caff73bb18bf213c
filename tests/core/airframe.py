"""A generated airframe: so many steps of every recipe, on surfaces of many sizes, for a crew of six."""

from __future__ import annotations

import random
from dataclasses import replace

from tests.core.jobs import VIENNA, WEEK_END
from tests.core.tasks import EPOXY, SANDWICH, product, skin, steps, task

from kiteloom.core.air.profile import Profile
from kiteloom.core.base.calendar import Shift, WorkingHours
from kiteloom.core.build.gates import before_gates
from kiteloom.core.build.step import After
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.plan.input import Member, PlanInput, Station, Thing

HOURS = WorkingHours(VIENNA, tuple(Shift(d, 540, 1080) for d in range(6)))
SKILLS = ("layup", "woodwork", "bonding", "finishing")
GLUE = replace(EPOXY, stages=(Stage("gel", 3), Stage("handle", 9), Stage("sand", 16)))
COAT = CureSystem(50, 20, (Stage("recoat", 6), Stage("handle", 14), Stage("recoat closes", 60)), 7)


def surface(chance):
    """The steps of one part, by a recipe drawn for it."""
    area = chance.uniform(0.4, 7)
    ribs = {"rib_pitch_m": 0.1}
    line = {"length_m": area, "width_m": 0.03, "thickness_mm": 1, "one": "cured laminate", "other": "carbon"}
    coat = product(COAT, induction_min=30)
    made = {
        "skin": lambda: skin(area),
        "foam": lambda: task("foam", "resin", EPOXY, area=(area, area * 0.95), stack=SANDWICH),
        "cap": lambda: task("cap", "resin", EPOXY, {"length_m": area, "width_m": 0.06}, stack=SANDWICH),
        "frame": lambda: task(
            "frame", "glue", GLUE,
            {**ribs, "gussets_per_rib": 2, "stringers": chance.randint(0, 3), "blocks": chance.randint(0, 2)},
            span=chance.randint(1, 13) / 10,
        ),
        "varnish": lambda: task(
            "varnish", "varnish", COAT, {**ribs, "rib_area_m2": area / 30}, span=chance.randint(1, 19) / 10, sheet=coat
        ),
        "bond": lambda: task("bond", "paste", GLUE, {**line, "closes": True}, density=1.2),
        "fair": lambda: task("fair", "filler", GLUE, {"on_foam": chance.random() < 0.5}, area=(area, area)),
    }  # fmt: skip
    key = chance.choice(list(made))
    return steps(key, made[key]())


def airframe(count, start, profile, seed=1, **more):
    """A job of so many steps; a surface in three is built from one before it."""
    chance = random.Random(seed)
    found, ends, things, n = [], [], [], 0
    while len(found) < count:
        part = f"surface {n}"
        mine = [step.of_part(part) for step in surface(chance)][: count - len(found)]
        if ends and chance.random() < 0.33:
            mine[0] = replace(mine[0], after=(*mine[0].after, After(chance.choice(ends))))
        if any(step.way for step in mine):
            things.append(Thing(part, part, part=part))
        found += mine
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
        before_gates(found),
        start,
        HOURS,
        profile,
        tuple(crew),
        tuple(stations),
        zones=zones,
        things=tuple(things),
        **more,
    )

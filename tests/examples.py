"""What the examples in docstrings may use without making it: a few products, a recipe's task, a small plan."""

from __future__ import annotations

from dataclasses import replace

import pytest

from kiteloom.core.build.step import After, Step
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.log.facts import Fact, Mixed
from kiteloom.core.plan.place import place
from kiteloom.core.shape.loft import Planform, straight
from kiteloom.core.shape.section import naca4
from kiteloom.core.shape.skin import skin_of
from tests.core import jobs, tasks


def small_plan():
    """A bed is prepared, laid up and peeled by one person in a steady 20 °C, from Thursday 09:20."""
    bed = Step("bed", "Prepare the bed", 60, part="wing")
    layup = Step("layup", "Lay up", 90, after=(After("bed"),), cure=tasks.EPOXY, wait_stage="peel", part="wing")
    peel = Step("peel", "Peel", 30, after=(After("layup"),), part="wing")
    return jobs.job([bed, layup, peel], crew=jobs.CREW[:1])


def laid_up():
    """The same, two hours after it was laid up."""
    asked = small_plan()
    start = asked.start
    bed = Fact(((start, start + 60),), finished=start + 60)
    layup = Fact(((start + 60, start + 150),), finished=start + 150, mixed=(Mixed(start + 60, tasks.EPOXY),))
    return place(replace(asked, facts={"bed": bed, "layup": layup}, start=start + 270))


@pytest.fixture(scope="session", autouse=True)
def names(doctest_namespace):
    doctest_namespace |= {name: getattr(tasks, name) for name in ("EPOXY", "FOAM", "GLASS", "SANDWICH", "product")}
    doctest_namespace |= {name: getattr(jobs, name) for name in ("DAYS", "VIENNA", "at", "job")}
    doctest_namespace |= {"replace": replace, "example": tasks.example, "clothed": tasks.clothed, "naca4": naca4}
    doctest_namespace |= {"PLANK": straight(Planform(4.0, 1.0, 1.0), naca4("0012")), "skin_of": skin_of}
    doctest_namespace |= {"Stage": Stage, "CureSystem": CureSystem}
    doctest_namespace |= {"small": small_plan(), "plan": place(small_plan()), "laid": laid_up()}

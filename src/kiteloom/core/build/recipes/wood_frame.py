"""A glued wood frame: ribs on a spar in a jig, laminated tip blocks, stringers, then gussets and leading edge.

Every joint is fitted dry before the glue is mixed: setting up takes most of the time, the
gluing itself is short. Hands-on minutes are common practice, and assumptions until the
crew's own hours replace them.
"""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.problems import between
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.cure.progress import CureSystem

NAME = "glued wood frame"


#: The stages a wood glue's sheet must give for this recipe.
HANDLE, SAND = "handle", "sand"


_TOOLS = "Sharp tools and wood dust: guards, mask, extraction."


_GLUE = "Hardener sensitises skin: gloves, sleeves, fresh air."


@dataclass(frozen=True)
class FrameJob:
    """What the recipe is given: how many ribs, gussets, stringers and laminated blocks, and the glue."""

    ribs: int
    gussets: int
    glue: CureSystem
    stringers: int = 0
    blocks: int = 0

    def __post_init__(self) -> None:
        between("ribs", self.ribs, 1, 500)
        between("gussets", self.gussets, 0, 2000)
        between("stringers", self.stringers, 0, 200)
        between("blocks", self.blocks, 0, 200, name="laminated blocks")
        self.glue.hours(HANDLE)
        self.glue.hours(SAND)

    @property
    def joints(self) -> int:
        """Each rib meets the spar and the trailing edge."""
        return 2 * self.ribs


def steps(job: FrameJob) -> tuple[Step, ...]:
    """The steps of one frame, in order, under stable keys."""

    def step(
        key: str, name: str, estimate: Estimate, caution: str, *after: After, station: str, people: int = 1
    ) -> Step:
        return Step(
            key, name, estimate.minutes, people, after, None, None, True, estimate, caution, stations=(station,)
        )

    def glued(key: str, name: str, estimate: Estimate, *after: str, people: int = 2, station: str = "jig") -> Step:
        return Step(
            key,
            name,
            estimate.minutes,
            people,
            tuple(After(link) for link in after),
            job.glue,
            HANDLE,
            estimate=estimate,
            caution=_GLUE,
            stations=(station,),
            holds=True,
            min_c=job.glue.min_c,
            limits_until=job.glue.stages[0].name,
            kind="glue",
            skills=("woodwork",),
        )

    ribs, joints, gussets = job.ribs, job.joints, job.gussets
    found = [
        step(
            "cut", "Cut ribs and strips", Estimate(30, each_min=14, count=ribs, piece="ribs"), _TOOLS, station="bench"
        ),
        step(
            "fit",
            "Dry fit in the jig, check square",
            Estimate(45, each_min=8, count=joints, piece="joints"),
            _TOOLS,
            After("cut"),
            station="jig",
        ),
        glued(
            "frame/glue", "Glue ribs to spar and edge", Estimate(20, each_min=4, count=joints, piece="joints"), "fit"
        ),
        step(
            "frame/clean",
            "Unclamp, scrape squeeze-out",
            Estimate(15, each_min=2, count=joints, piece="joints"),
            _TOOLS,
            After("frame/glue"),
            station="bench",
        ),
    ]
    before = ["frame/clean"]
    if job.blocks:
        # Thin strips bent round a form: they spring open again unless they cure in it.
        strips = Estimate(25, each_min=20, count=job.blocks, piece="blocks")
        found.append(
            glued("blocks/glue", "Laminate tip blocks in their form", strips, "cut", people=1, station="bench")
        )
        shape = Estimate(10, each_min=25, count=job.blocks, piece="blocks")
        found.append(
            step("blocks/shape", "Shape and fit the blocks", shape, _TOOLS, After("blocks/glue"), station="bench")
        )
        before.append("blocks/shape")
    if job.stringers:
        long = Estimate(30, each_min=18, count=job.stringers, piece="stringers")
        found.append(glued("stringers/glue", "Let in and glue the stringers", long, *before))
        before = ["stringers/glue"]
    found += [
        glued(
            "gussets/glue",
            "Glue gussets and leading edge",
            Estimate(25, each_min=3, count=gussets, piece="gussets"),
            *before,
        ),
        step(
            "sand",
            "Sand, round every edge",
            Estimate(20, each_min=6, count=ribs, piece="ribs"),
            _TOOLS,
            After("gussets/glue", SAND),
            station="bench",
        ),
    ]
    return tuple(found)

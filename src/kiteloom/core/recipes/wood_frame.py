"""A glued wood frame: ribs on a spar in a jig, then the leading edge and gussets.

Every joint is fitted dry before the glue is mixed: setting up takes most of the time, the
gluing itself is short. Hands-on minutes are common practice, and assumptions until the
crew's own hours replace them.
"""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.cure import CureSystem
from kiteloom.core.problems import between
from kiteloom.core.schedule.job import After, Estimate, Step

NAME = "glued wood frame"
#: The stages a wood glue's sheet must give for this recipe.
HANDLE, SAND = "handle", "sand"

_TOOLS = "Sharp tools and wood dust: guards, mask, extraction."
_GLUE = "Hardener sensitises skin: gloves, sleeves, fresh air."


@dataclass(frozen=True)
class FrameJob:
    """What the recipe is given: how many ribs and gussets, and the glue."""

    ribs: int
    gussets: int
    glue: CureSystem

    def __post_init__(self) -> None:
        between("ribs", self.ribs, 1, 500)
        between("gussets", self.gussets, 0, 2000)
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

    def glued(key: str, name: str, estimate: Estimate, after: str) -> Step:
        return Step(
            key,
            name,
            estimate.minutes,
            2,
            (After(after),),
            job.glue,
            HANDLE,
            estimate=estimate,
            caution=_GLUE,
            stations=("jig",),
            holds=True,
        )

    ribs, joints, gussets = job.ribs, job.joints, job.gussets
    return (
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
        glued(
            "gussets/glue",
            "Glue gussets and leading edge",
            Estimate(25, each_min=3, count=gussets, piece="gussets"),
            "frame/clean",
        ),
        step(
            "sand",
            "Sand, round every edge",
            Estimate(20, each_min=6, count=ribs, piece="ribs"),
            _TOOLS,
            After("gussets/glue", SAND),
            station="bench",
        ),
    )

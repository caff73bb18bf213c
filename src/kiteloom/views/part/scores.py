"""How a core is scored to follow its side: place by place in figures, and drawn."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.base.quantities import UnitSystem
from kiteloom.core.laminate.scoring import Scored, scoring_figures
from kiteloom.core.shape.loft import Hand, Ring
from kiteloom.core.shape.skin import Skin
from kiteloom.workshop.build.jobs import BuiltJob


@dataclass(frozen=True)
class ScoreView:
    """Where the core is scored at one place along the span, how, and what asks for care there."""

    where: str
    cuts: str
    care: str
    figures: tuple[Figure, ...]


@dataclass(frozen=True)
class ScoringView:
    """All of it: place by place, where it is scored on the drawing, and the resin that fills the cuts."""

    rows: list[ScoreView]
    rings: tuple[Ring, ...]
    resin: Figure | None


NO_SCORES = ScoringView([], (), None)


def scoring_view(job: BuiltJob, surface: Skin | None, density: float, hand: Hand, units: UnitSystem) -> ScoringView:
    """How the core of a job is scored; ``surface`` is the side that is drawn."""
    if job.recipe is None or job.task is None or job.stack is None or job.stack.core is None or job.covered is None:
        return NO_SCORES
    core, sides = job.stack.core, job.recipe.scores(job.task)
    rows = [
        ScoreView(
            f"{side.capitalize()} side, {row.where(units)}" if len(sides) > 1 else row.where(units),
            row.cuts(units),
            row.care(units),
            scoring_figures(row, core),
        )
        for side, scoring in sides
        for row in scoring.rows
    ]
    if not rows:
        return NO_SCORES
    holds = job.covered.scores_ml
    given = (Given("what the cuts hold", holds, "volume"), Given("resin", 1000 * density, "density"))
    resin = Figure(
        "scores_resin", "Resin that fills them", holds * density, "mass", "what the cuts hold × density",
        given, "A cut opened by its spacing over the radius is a wedge. Counted with what the core takes up.",
    )  # fmt: skip
    drawn = tuple(ring for _, scoring in sides[:1] for ring in _rings(scoring.rows, surface, hand))
    return ScoringView(rows, drawn, resin)


def _rings(rows: tuple[Scored, ...], surface: Skin | None, hand: Hand) -> list[Ring]:
    """What is scored from one place to the next, where as many stretches of the chord are at both."""
    if surface is None:
        return []
    by_place: dict[float, list[Scored]] = {}
    for row in rows:
        by_place.setdefault(row.at_m, []).append(row)
    found: list[Ring] = []
    for here, there in pairwise(by_place.values()):
        if len(here) != len(there):
            continue
        for one, other in zip(here, there, strict=True):
            corners = ((one, one.lead), (other, other.lead), (other, other.tail), (one, one.tail))
            found.append(tuple(surface.point(row.at_m, share, hand) for row, share in corners))
    return found

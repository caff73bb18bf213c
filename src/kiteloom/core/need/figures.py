"""From what: the resin a step takes."""

from __future__ import annotations

from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.need.resin import Losses, ResinNeed


def resin_figures(
    step: str, need: ResinNeed, losses: Losses, assumed: frozenset[str], mixed_g: float
) -> tuple[Figure, ...]:
    """Resin to mix for one step, what has been mixed, and what is left to mix.

    >>> from kiteloom.core.need.resin import resin_need
    >>> need = resin_need(1200, 200, Losses(), 2.0)
    >>> [(figure.key, round(figure.value)) for figure in resin_figures("layup", need, Losses(), frozenset(), 500)]
    [('layup:need', 1764), ('layup:mixed', 500), ('layup:left', 1264)]
    """
    given = (
        Given("stays in the plies", need.laminate_g, "mass"),
        Given("taken up by the core", need.core_g, "mass"),
        Given(f"cut off wet, {losses.trim_pct:g} %", need.trim_g, "mass", "trim_pct" in assumed),
        Given("drawn into peel ply and breather", need.bleed_g, "mass", bool(need.bleed_g) and "bleed_g_m2" in assumed),
        Given(f"left in cups and tools, {losses.cup_pct:g} %", need.cup_g, "mass", "cup_pct" in assumed),
    )
    source = "Losses are common practice; change them where your shop knows better."
    equation = "(plies + core + trim + bleed) ÷ (1 − share left in cups)"
    left = max(need.total_g - mixed_g, 0.0)
    return (
        Figure(f"{step}:need", "To mix in all", need.total_g, "mass", equation, given, source),
        Figure(
            f"{step}:mixed",
            "On it so far",
            mixed_g,
            "mass",
            "sum of what went on this step, leftovers out",
            (),
            "The batches below; what is out of ratio or marked bad counts once somebody has let it through.",
        ),
        Figure(
            f"{step}:left",
            "Still to mix",
            left,
            "mass",
            "to mix in all − on it so far",
            (
                Given("to mix in all", need.total_g, "mass"),
                Given("on it so far", mixed_g, "mass"),
                *(g for g in given if g.assumed),
            ),
            source,
        ),
    )

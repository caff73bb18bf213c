"""From what: the two masses of a cup."""

from __future__ import annotations

from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.mix.ratio import Masses, MixSystem


def pour_figures(system: MixSystem, wanted: Masses, lids: tuple[str, str]) -> tuple[Figure, ...]:
    """The two masses to pour for a cup.

    >>> from kiteloom.core.mix.ratio import Ratio, masses
    >>> system = MixSystem(Ratio(100, 25))
    >>> [(figure.key, figure.value) for figure in pour_figures(system, masses(system, total_g=250), ("A", "B"))]
    [('pour_resin', 200.0), ('pour_hardener', 50.0)]
    """
    given: tuple[Given, ...] = (
        Given("cup", wanted.total_g, "scale"),
        Given("ratio, resin : hardener", str(system.ratio)),
    )
    if system.ratio.basis == "volume":
        given += (
            Given("resin density", 1000 * (system.resin_density_g_ml or 0), "density"),
            Given("hardener density", 1000 * (system.hardener_density_g_ml or 0), "density"),
        )
    factor = Given("hardener per 100 of resin, by weight", 100 * system.by_weight)
    return (
        Figure("pour_resin", lids[0], wanted.resin_g, "scale", "cup ÷ (1 + hardener per resin)", (*given, factor)),
        Figure("pour_hardener", lids[1], wanted.hardener_g, "scale", "resin × hardener per resin", (*given, factor)),
    )

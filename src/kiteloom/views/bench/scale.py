"""What the scale reads, in words a builder can act on."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.mix.scale import NOISE_G, ZERO_G
from kiteloom.workshop.mix.scale import Scale


@dataclass(frozen=True)
class ScaleView:
    """What the scale reads. ``there`` is False when this shop has none; ``grams`` is None when it is silent.

    Less than ``noise_g`` is no pouring; no more than ``zero_g`` is zero.
    ``simulated`` scales can be poured on from the screen.
    """

    there: bool
    grams: float | None
    steady: bool
    step_g: float | None
    problem: str
    simulated: bool
    noise_g: float = NOISE_G
    zero_g: float = ZERO_G


def scale_view(scale: Scale | None, units: UnitSystem) -> ScaleView:
    """Read it."""
    if scale is None:
        return ScaleView(False, None, False, None, "", False)
    simulated = hasattr(scale, "pour")
    try:
        grams, steady = scale.read()
    except OSError:
        words = "The scale does not answer. What was weighed stays; plug it in again, or type what another one shows."
        return ScaleView(True, None, False, scale.step_g, words, simulated)
    problem = ""
    if grams < -NOISE_G:
        problem = f"The scale reads {show(grams, 'scale', units)}: was the cup lifted? Put it back, or set it to zero."
    return ScaleView(True, grams, steady, scale.step_g, problem, simulated)

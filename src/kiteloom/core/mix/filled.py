"""A mix thickened with a filler: what it weighs, what it fills, and whether it may go there.

Volume = Σ mᵢ/ρᵢ with the particles' own density. Structural glue, fillet and fairing are three
things: hollow balloons make a filler that is light and easy to sand, and a joint that breaks.
"""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.problems import Refused, between

#: What a filled mix is for, strongest first.
USES = ("structural", "fillet", "fairing")


@dataclass(frozen=True)
class Powder:
    """A filler: its use, its particles' own density [g/ml], parts by weight per 100 of mix for each consistency."""

    name: str
    use: str
    true_density_g_ml: float
    parts: dict[str, float]

    def __post_init__(self) -> None:
        between("true_density_g_ml", self.true_density_g_ml, 0.02, 25, unit="g/ml", name="the particles' density")
        for consistency, parts in self.parts.items():
            between(f"parts.{consistency}", parts, 0, 1000, name=f"parts for {consistency}", open_low=True)


@dataclass(frozen=True)
class FilledMix:
    """A filled mix [g], its volume [ml] and density [g/ml]."""

    mix_g: float
    filler_g: float
    volume_ml: float

    @property
    def density_g_ml(self) -> float:
        """Grams of it in a millilitre.

        >>> FilledMix(mix_g=80, filler_g=10, volume_ml=120).density_g_ml
        0.75
        """
        return (self.mix_g + self.filler_g) / self.volume_ml


def powder_for(powder: Powder, consistency: str, mix_g: float) -> float:
    """Grams of filler that make so much mix as stiff as wanted.

    >>> powder_for(Powder("balloons", "fairing", 0.25, {"peanut butter": 30}), "peanut butter", 120)
    36.0
    """
    between("mix_g", mix_g, 0, 1e6, unit="g", name="the mix")
    if consistency not in powder.parts:
        names = ", ".join(powder.parts) or "none"
        raise Refused("consistency", f"the sheet of {powder.name} gives no parts for “{consistency}”; it has {names}")
    return powder.parts[consistency] / 100 * mix_g


def filled(powder: Powder, consistency: str, volume_ml: float, mix_density_g_ml: float) -> FilledMix:
    """Grams of mixed resin and of filler for a wanted volume.

    Parameters
    ----------
    volume_ml : float
        What is to be filled [ml].
    mix_density_g_ml : float
        Of resin and hardener mixed [g/ml].

    Notes
    -----
    Air stirred in is left out: a filled mix is a little lighter than this.

    Examples
    --------
    >>> balloons = Powder("balloons", "fairing", 0.25, {"peanut butter": 30})
    >>> mix = filled(balloons, "peanut butter", 100, 1.1)
    >>> round(mix.mix_g, 1), round(mix.filler_g, 1), round(mix.density_g_ml, 2)
    (47.4, 14.2, 0.62)
    """
    between("volume", volume_ml, 0, 1e6, unit="ml", name="the volume", open_low=True)
    between("mix_density_g_ml", mix_density_g_ml, 0.1, 25, unit="g/ml")
    share = powder_for(powder, consistency, 1.0)
    mix = volume_ml / (1 / mix_density_g_ml + share / powder.true_density_g_ml)
    return FilledMix(mix, share * mix, volume_ml)


def speaks_against_use(powder: Powder, wanted: str) -> str:
    """Why this filler is doubtful for a use, as a question; empty when it is fit for it.

    >>> speaks_against_use(Powder("balloons", "fairing", 0.25, {}), "structural")
    'balloons is a fairing filler: light, weak and easy to sand. In a structural joint it breaks; take flock or fibre?'
    """
    if wanted not in USES:
        raise Refused("use", f"“{wanted}” is not a use; they are {', '.join(USES)}")
    if wanted == powder.use or (USES.index(powder.use) < USES.index(wanted) and powder.use != "structural"):
        return ""
    if powder.use == "fairing":
        where = "a structural joint it breaks; take flock or fibre?"
        if wanted == "fillet":
            where = "a fillet that carries it cracks; take a fillet filler?"
        return f"{powder.name} is a fairing filler: light, weak and easy to sand. In {where}"
    if powder.use == "fillet":
        return f"{powder.name} is a fillet filler; does the kit's plan allow it in a structural joint?"
    return f"{powder.name} is a structural filler: heavy and hard to sand where only a {wanted} is wanted."

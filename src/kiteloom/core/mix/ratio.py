"""Ratios, checking what was poured, and putting it right."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.problems import Refused, between, plain
from kiteloom.core.base.quantities import UnitSystem, show

Component = Literal["resin", "hardener"]


Verdict = Literal["in", "near", "out"]


# A verdict must not turn on the last bit of a division.
_ROUNDING = 1e-9


#: Less than this in a cup is nothing [g].
_NOTHING_G = 1e-6


class ImpossibleMix(Refused):
    """Masses no cup can hold."""


@dataclass(frozen=True)
class Ratio:
    """Parts of resin and hardener, by weight or by volume [-]; both above 0."""

    resin: float
    hardener: float
    basis: Literal["weight", "volume"] = "weight"

    def __post_init__(self) -> None:
        for field, parts in (("ratio.resin", self.resin), ("ratio.hardener", self.hardener)):
            name = f"parts of {field.removeprefix('ratio.')}"
            between(field, parts, 0, open_low=True, name=name)
            between(field, parts, 1e-3, 1e6, name=name)

    def __str__(self) -> str:
        return f"{plain(self.resin)} : {plain(self.hardener)} by {self.basis}"


@dataclass(frozen=True)
class MixSystem:
    """How a two-part product is mixed.

    Parameters
    ----------
    ratio : Ratio
    resin_density_g_ml, hardener_density_g_ml : float or None
        None when the sheet does not say; volumes are then unknown.
    tolerance_pct : float or None
        Deviation of hardener per resin that the maker allows [%].
    stoichiometric : bool
        Whether the parts react one for the other (amine-cured epoxy), so that a top-up holds.
        A peroxide only starts the reaction: its mix has a range and no top-up.
    """

    ratio: Ratio
    resin_density_g_ml: float | None = None
    hardener_density_g_ml: float | None = None
    tolerance_pct: float | None = None
    stoichiometric: bool = True

    def __post_init__(self) -> None:
        for field in ("resin_density_g_ml", "hardener_density_g_ml"):
            value = getattr(self, field)
            if value is not None:
                between(field, value, 0.01, 25, unit="g/ml")
        if self.tolerance_pct is not None:
            between("tolerance_pct", self.tolerance_pct, 0, 95, unit="%")
        if self.ratio.basis == "volume":
            _ = self.by_weight

    @property
    def by_weight(self) -> float:
        """Hardener per part of resin, by weight [-].

        Raises
        ------
        Refused
            If the ratio is by volume and a density is missing.

        >>> MixSystem(Ratio(2, 1, "volume"), 1.2, 1.0).by_weight
        0.4166666666666667
        """
        plain_ratio = self.ratio.hardener / self.ratio.resin
        if self.ratio.basis == "weight":
            return plain_ratio
        resin, hardener = self._densities("a ratio by volume")
        return plain_ratio * hardener / resin

    @property
    def by_volume(self) -> float | None:
        """Hardener per part of resin, by volume [-]; None when a density is missing.

        >>> MixSystem(Ratio(100, 40), 1.2, 1.0).by_volume, MixSystem(Ratio(100, 40)).by_volume
        (0.48, None)
        """
        if self.ratio.basis == "volume":
            return self.ratio.hardener / self.ratio.resin
        if self.resin_density_g_ml is None or self.hardener_density_g_ml is None:
            return None
        return self.by_weight * self.resin_density_g_ml / self.hardener_density_g_ml

    def _densities(self, purpose: str) -> tuple[float, float]:
        if self.resin_density_g_ml is None or self.hardener_density_g_ml is None:
            field = "resin_density_g_ml" if self.resin_density_g_ml is None else "hardener_density_g_ml"
            raise Refused(field, f"{field} is missing; {purpose} can't be weighed without both densities")
        return self.resin_density_g_ml, self.hardener_density_g_ml


@dataclass(frozen=True)
class Masses:
    """The two parts of one mix [g], and their volumes [ml] where densities are known."""

    resin_g: float
    hardener_g: float
    resin_ml: float | None
    hardener_ml: float | None

    @property
    def total_g(self) -> float:
        """Both parts together [g].

        >>> masses(MixSystem(Ratio(100, 25)), resin_g=200).total_g
        250.0
        """
        return self.resin_g + self.hardener_g


def masses(
    system: MixSystem,
    *,
    total_g: float | None = None,
    total_ml: float | None = None,
    resin_g: float | None = None,
) -> Masses:
    """The two masses to pour for a wanted total, or for resin already poured.

    Parameters
    ----------
    total_g, total_ml, resin_g : float
        Exactly one; above 0. Volumes are taken to add up.

    Raises
    ------
    Refused
        If not exactly one is given, it is not above 0, or a density it needs is missing.

    Examples
    --------
    >>> masses(MixSystem(Ratio(100, 25)), total_g=250)
    Masses(resin_g=200.0, hardener_g=50.0, resin_ml=None, hardener_ml=None)
    """
    asked = {"total_g": total_g, "total_ml": total_ml, "resin_g": resin_g}
    given = {name: value for name, value in asked.items() if value is not None}
    if len(given) != 1:
        raise Refused(
            "total_g", f"{len(given)} amounts were given; exactly one of total_g, total_ml, resin_g is wanted"
        )
    field, amount = next(iter(given.items()))
    unit = "ml" if field == "total_ml" else "g"
    between(field, amount, 0, unit=unit, open_low=True)
    between(field, amount, 1e-3, 1e6, unit=unit)
    k = system.by_weight
    if field == "resin_g":
        resin = amount
    elif field == "total_g":
        resin = amount / (1 + k)
    else:
        rho_r, rho_h = system._densities("a total by volume")
        resin = amount / (1 / rho_r + k / rho_h)
    hardener = k * resin
    return Masses(
        resin,
        hardener,
        None if system.resin_density_g_ml is None else resin / system.resin_density_g_ml,
        None if system.hardener_density_g_ml is None else hardener / system.hardener_density_g_ml,
    )


@dataclass(frozen=True)
class TopUp:
    """The component that is short, and how much of it brings the mix back [g]."""

    component: Component
    grams: float


def top_up(ratio: float, resin_g: float, hardener_g: float) -> TopUp | None:
    """The part, and how much of it, that brings a poured mix back to its ratio.

    Parameters
    ----------
    ratio : float
        Hardener per part of resin, by weight [-]; above 0.
    resin_g, hardener_g : float
        What is in the cup [g]; not negative, not both 0.

    Returns
    -------
    TopUp or None
        None when the cup is already exact.

    Raises
    ------
    ImpossibleMix
        If a mass is negative or both are 0.

    Notes
    -----
    Adding never removes: the part that is short is raised to match the other,
    so the batch grows. It holds for stoichiometric systems (amine-cured epoxy), and only
    while none of the mix has been used.

    Examples
    --------
    >>> top_up(0.28, resin_g=100, hardener_g=30)
    TopUp(component='resin', grams=7.142857142857139)
    """
    between("ratio", ratio, 0, open_low=True)
    for field, mass in (("resin_g", resin_g), ("hardener_g", hardener_g)):
        try:
            between(field, mass, 0, 1e6, unit="g")
        except Refused as refused:
            raise ImpossibleMix(refused.field, refused.sentence) from None
    if resin_g == 0 and hardener_g == 0:
        raise ImpossibleMix("resin_g", "resin_g and hardener_g are both 0 g; the cup is empty")
    if hardener_g > ratio * resin_g:
        return TopUp("resin", hardener_g / ratio - resin_g)
    if hardener_g < ratio * resin_g:
        return TopUp("hardener", ratio * resin_g - hardener_g)
    return None


@dataclass(frozen=True)
class Judgement:
    """How a poured mix stands: deviation [%] (None without resin), verdict, what to add, in words."""

    deviation_pct: float | None
    verdict: Verdict
    top_up: TopUp | None
    advice: str


def judge(
    system: MixSystem,
    resin_g: float,
    hardener_g: float,
    units: UnitSystem = "metric",
    names: tuple[str, str] = ("resin", "hardener"),
) -> Judgement:
    """Compare what was poured with the ratio.

    Parameters
    ----------
    resin_g, hardener_g : float
        What is in the cup [g]; not negative, not both 0.
    names : (str, str)
        What the advice calls the two parts.

    Returns
    -------
    Judgement
        ``in`` within the tolerance, ``near`` within twice, else ``out``; nothing to add when in.

    Examples
    --------
    >>> judge(MixSystem(Ratio(100, 28), tolerance_pct=3), 100, 30).advice
    'Hardener is 7.1 % over. Add 7.1 g resin, only while none of this cup has been used.'
    """
    if system.tolerance_pct is None:
        raise Refused("tolerance_pct", "tolerance_pct is missing; without it a mix can't be judged")
    short = top_up(system.by_weight, resin_g, hardener_g)
    deviation = 100 * (hardener_g / resin_g / system.by_weight - 1) if resin_g > _NOTHING_G else None
    off = abs(deviation) if deviation is not None else float("inf")
    if off <= system.tolerance_pct + _ROUNDING:
        sentence = f"Within ±{plain(system.tolerance_pct)} %: mix it, scrape the sides, mix again."
        return Judgement(deviation, "in", None, sentence)
    verdict: Verdict = "near" if off <= 2 * system.tolerance_pct + _ROUNDING else "out"
    if not system.stoichiometric:
        sentence = "Out of the maker's range, and a peroxide-cured mix has no top-up: ask the maker, or make a new one."
        return Judgement(deviation, verdict, None, sentence)
    assert short is not None
    named = dict(zip(("resin", "hardener"), names, strict=True))
    if deviation is None:
        state = f"There is no {named['resin']} in the cup"
    else:
        way = "over" if deviation > 0 else "under"
        state = f"{named['hardener'][0].upper()}{named['hardener'][1:]} is {off:.1f} % {way}"
    amount = show(short.grams, "scale", units)
    advice = f"{state}. Add {amount} {named[short.component]}, only while none of this cup has been used."
    return Judgement(deviation, verdict, short, advice)


def swapped(system: MixSystem, resin_g: float, hardener_g: float) -> bool:
    """Whether two figures are out of tolerance as they stand, and within it the other way round.

    >>> system = MixSystem(Ratio(100, 28), tolerance_pct=3)
    >>> swapped(system, 28, 100), swapped(system, 100, 28), swapped(system, 100, 60)
    (True, False, False)
    """
    return judge(system, resin_g, hardener_g).verdict == "out" and judge(system, hardener_g, resin_g).verdict == "in"


@dataclass(frozen=True)
class Band:
    """Masses of one part that are right for the other [g]: target, and the tolerance band's edges."""

    target_g: float
    from_g: float
    to_g: float


def hardener_band(system: MixSystem, resin_g: float) -> Band:
    """What to pour onto resin already in the cup [g]; the band is the maker's tolerance.

    Examples
    --------
    >>> hardener_band(MixSystem(Ratio(100, 28), tolerance_pct=5), 200)
    Band(target_g=56.0, from_g=53.2, to_g=58.8)
    """
    between("resin_g", resin_g, 0, 1e6, unit="g")
    target = system.by_weight * resin_g
    part = (system.tolerance_pct or 0) / 100
    return Band(round(target, 9), round(target * (1 - part), 9), round(target * (1 + part), 9))


def hardener_per_hundred(amine_equivalent: float, epoxide_equivalent: float) -> float:
    """Parts of amine hardener per hundred of epoxy resin by weight.

    Parameters
    ----------
    amine_equivalent, epoxide_equivalent : float
        Grams per equivalent (AHEW, EEW); above 0.

    References
    ----------
    Lee & Neville, *Handbook of Epoxy Resins* (from memory).

    Examples
    --------
    >>> round(hardener_per_hundred(20.6, 190), 1)
    10.8
    """
    between("amine_equivalent", amine_equivalent, 0, open_low=True)
    between("epoxide_equivalent", epoxide_equivalent, 0, open_low=True)
    return 100 * amine_equivalent / epoxide_equivalent

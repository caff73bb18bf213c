"""What coats take: by how far a litre goes, with what is lost on the way; wet and dry on the part."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.problems import between


@dataclass(frozen=True)
class Coats:
    """What is mixed [l], and what is on the part wet and dry [g]; dry is None where its solids are not known."""

    litres: float
    wet_g: float
    dry_g: float | None


def coats(
    area_m2: float,
    count: int,
    spread_m2_l: float,
    lost: float,
    density_g_ml: float,
    solids: float | None = None,
) -> Coats:
    """So many coats on an area.

    Parameters
    ----------
    spread_m2_l : float
        How far a litre goes in one coat, on the part [m²/l].
    lost : float
        What goes beside it, of what is mixed [-].
    solids : float or None
        What is left when it is dry, by weight [-].

    >>> found = coats(2.0, 3, 10.0, 0.25, 1.2, 0.5)
    >>> round(found.litres, 6), round(found.wet_g, 6), round(found.dry_g, 6)
    (0.8, 720.0, 360.0)
    """
    between("area_m2", area_m2, 0, 10_000, unit="m²", name="the area")
    between("coats", count, 0, 50, name="the number of coats")
    between("spread_m2_l", spread_m2_l, 0, 1000, unit="m²/l", name="what a litre spreads over", open_low=True)
    between("loss_pct", 100 * lost, 0, 95, unit="%", name="the loss")
    between("density_g_ml", density_g_ml, 0.3, 4, unit="g/ml", name="the density")
    if solids is not None:
        between("solids_pct", 100 * solids, 0, 100, unit="%", name="what is left when it is dry")
    on_part_l = area_m2 * count / spread_m2_l
    wet_g = 1000 * density_g_ml * on_part_l
    return Coats(on_part_l / (1 - lost), wet_g, None if solids is None else wet_g * solids)

"""What a data sheet says, as the calculations take it."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.cure.glass import GlassTransition
from kiteloom.core.cure.system import CureSystem
from kiteloom.core.mix.exotherm import DENSITY_G_ML, PotLife
from kiteloom.core.mix.ratio import MixSystem

#: A core bends cold, unscored, to so many of its thicknesses: its faces then give 1 % (common practice) [-].
BENDS = 50.0
#: Ratios nearer to each other than this do no harm when swapped [-].
_SAME_RATIO = 0.02


@dataclass(frozen=True)
class Cloth:
    """A reinforcement cloth.

    Parameters
    ----------
    areal_weight_g_m2, fibre_density_g_cm3 : float
        Dry cloth, and the fibre itself.
    fibre_weight_fraction, hand_weight_fraction : float
        Share of fibre in the finished ply by weight, under a bag and laid by hand, above 0 and below 1 [-].
    balanced : bool
        Woven or stitched ±: the same at θ and θ + 90°.
    stitched : bool
        Stitched from layers that lie one on the other, not woven: it is not the same upside down.
    roll_width_m : float or None
        Width it is sold in [m].
    fibre_off_deg : float
        How far its fibres run off the length of the roll: 0 for what is woven, 45 for cloth stitched at ±45° [°].
    assumed : frozenset of str
        Figures the sheet lacks and common practice fills in.
    """

    name: str
    areal_weight_g_m2: float
    fibre_density_g_cm3: float
    fibre_weight_fraction: float
    balanced: bool = False
    roll_width_m: float | None = None
    assumed: frozenset[str] = frozenset()
    stitched: bool = False
    hand_weight_fraction: float = 0.5
    fibre_off_deg: float = 0.0

    @property
    def carbon(self) -> bool:
        """Whether its fibre is carbon, by its density (common practice: 1.7 to 1.9 g/cm³)."""
        return 1.7 <= self.fibre_density_g_cm3 <= 1.95

    def __post_init__(self) -> None:
        between("areal_weight_g_m2", self.areal_weight_g_m2, 0, 10_000, unit="g/m²", open_low=True)
        between("fibre_density_g_cm3", self.fibre_density_g_cm3, 0.1, 25, unit="g/cm³")
        between("fibre_weight_fraction", self.fibre_weight_fraction, 0.01, 0.99)
        between("hand_weight_fraction", self.hand_weight_fraction, 0.01, 0.99)


@dataclass(frozen=True)
class CoreSheet:
    """A core: its sheet thickness [mm], density [kg/m³], resin taken up per side [g/m²], where it softens [°C].

    ``sheet_m2`` is how large one sheet is; None where its size is not known [m²]. ``bends_to_m`` is the radius it bends
    to cold, unscored; None where its sheet does not say [m].
    """

    name: str
    thickness_mm: float
    density_kg_m3: float
    resin_uptake_g_m2_per_side: float
    uptake_assumed: bool = False
    softens_c: float | None = None
    sheet_m2: float | None = None
    bends_to_m: float | None = None

    @property
    def bend_m(self) -> float:
        """The radius it bends to cold and unscored, by its sheet or by common practice [m].

        >>> FOAM.bend_m
        0.4
        """
        return BENDS * self.thickness_mm / 1000 if self.bends_to_m is None else self.bends_to_m


@dataclass(frozen=True)
class ResinSheet:
    """What goes from wet to hard, resin, glue or varnish: how it is mixed and how it cures.

    ``parts`` is None for what comes ready in one part: nothing is mixed. ``school`` is of what belongs to one way of
    covering.

    ``max_c`` and ``max_rh_pct`` are how warm [°C] and how damp [%] the air may be; ``spread_m2_l`` is how
    far a litre goes in one coat [m²/l], ``wet_density_g_ml`` that of the mix and ``cured_density_g_ml``
    that of the cured resin in a laminate; ``widest_gap_mm`` is how far an adhesive bridges [mm]. ``assumed`` names what
    the sheet lacks and common practice fills in; ``cure`` and ``pot_life`` are None where it is silent.
    """

    name: str
    resin_lid: str
    hardener_lid: str
    chemistry: str
    parts: MixSystem | None
    cure: CureSystem | None
    cured_density_g_ml: float
    pot_life: PotLife | None
    hazards: tuple[str, ...] = ()
    glass: GlassTransition | None = None
    assumed: frozenset[str] = frozenset()
    induction_min: float = 0.0
    max_rh_pct: float | None = None
    max_c: float | None = None
    spread_m2_l: float | None = None
    solids: float = 0.6
    wet_density_g_ml: float = DENSITY_G_ML
    widest_gap_mm: float | None = None
    school: str = ""

    @property
    def mix(self) -> MixSystem:
        """How its two parts are mixed; `Refused` for what comes in one."""
        if self.parts is None:
            raise Refused("ratio", f"{self.name} comes ready in one part; nothing of it is mixed")
        return self.parts

    @property
    def coat_g_m2(self) -> float | None:
        """What one coat takes, mixed [g/m²]; None where its sheet does not say how far a litre goes.

        >>> replace(product(EPOXY), spread_m2_l=11.0).coat_g_m2
        100.0
        """
        return None if self.spread_m2_l is None else 1000 * self.wet_density_g_ml / self.spread_m2_l

    @property
    def curing(self) -> CureSystem:
        """How it cures; `Refused` where the sheet gives no stages.

        >>> product(EPOXY).curing.hours("peel")
        10
        """
        if self.cure is None:
            raise Refused("stages", f"the sheet of {self.name} gives no stages; when it is hard can't be computed")
        return self.cure


@dataclass(frozen=True)
class CoverCloth:
    """A cloth that covers: its school, and what the iron does to it [°C]; None where its sheet does not say."""

    name: str
    areal_weight_g_m2: float
    roll_width_m: float
    school: str
    slack_c: float | None = None
    finish_c: float | None = None
    limit_c: float | None = None
    strength_lb_in: float | None = None
    """How strong it is when new, by the inch of width [lb/in]."""


@dataclass(frozen=True)
class EdgeTape:
    """A tape over ribs and edges: its width [mm], and what the iron does to it [°C]."""

    name: str
    width_mm: float
    tack_c: float | None = None
    finish_c: float | None = None
    limit_c: float | None = None


@dataclass(frozen=True)
class Solvent:
    """What is rinsed or thinned with: what can hurt whoever works with it, and how heavy it is [g/ml]."""

    name: str
    hazards: tuple[str, ...] = ()
    density_g_ml: float | None = None


@dataclass(frozen=True)
class WoodSheet:
    """Plywood, or another sheet that pieces are cut from: thickness [mm], density [kg/m³], its size [m]."""

    name: str
    thickness_mm: float
    density_kg_m3: float | None = None
    length_m: float | None = None
    width_m: float | None = None


Material = CoverCloth | EdgeTape | Solvent | WoodSheet


def looks_alike(one: ResinSheet, other: ResinSheet) -> bool:
    """Whether two products may be mistaken on the bench: one maker's word on both, another ratio.

    The same lid on both is worse still.

    >>> slow, fast = product(EPOXY), product(EPOXY)
    >>> looks_alike(slow, fast)  # the same ratio: no harm
    False
    """
    if one.parts is None or other.parts is None:
        return False
    word = one.name.split()[0].lower() == other.name.split()[0].lower()
    lids = {one.resin_lid, one.hardener_lid} & {other.resin_lid, other.hardener_lid}
    return (word or bool(lids)) and abs(one.parts.by_weight / other.parts.by_weight - 1) > _SAME_RATIO

"""The fields a data sheet has, kind by kind: one table behind the form, what is read in and what is written out."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from kiteloom.core.base.fields import Asked, Style
from kiteloom.core.base.problems import Refused

#: Products mixed from two parts, where their sheet gives a ratio.
MIXED = ("laminating resin", "paste adhesive", "wood glue", "filler", "sealant", "varnish", "primer", "paint")


#: Products that go from wet to hard.
CURING = (*MIXED, "cement")


OTHERS = ("filler powder", "cloth", "core", "cover cloth", "tape", "sheet", "solvent", "consumable")


KINDS = (*CURING, *OTHERS)


#: How a product gets hard. The first three react, by an Arrhenius rate; the others go by their table.
CHEMISTRIES = ("amine epoxy", "polyurethane", "peroxide", "drying", "moisture")


BY_TABLE = ("drying", "moisture")


#: Stages in the order they are reached; a sheet may have others.
STAGES = ("open", "gel", "recoat opens", "recoat", "handle", "peel", "sand", "recoat closes", "full")


#: Taken where a sheet is silent (common practice), and shown as assumed wherever it is used.
ASSUMED: dict[str, float] = {
    "tolerance_pct": 5.0,
    "cured_density_g_ml": 1.15,
    "cure.activation_energy_kj_mol": 51.2,
    "fibre_weight_fraction": 0.5,
    "hand_weight_fraction": 0.5,
    "solids": 0.6,
    "resin_uptake_g_m2_per_side": 150.0,
}


#: What consumables are used up as: how their lots are counted, in metres off the roll or in pieces, and how steps use
#: them.
USES: dict[str, tuple[str, str]] = {
    "peel ply": ("run", "area"),
    "release film with holes": ("run", "area"),
    "release film, solid": ("run", "area"),
    "breather": ("run", "area"),
    "bag film": ("run", "area"),
    "sealant tape": ("run", "run"),
    "tacky tape": ("run", "run"),
    "cups": ("count", "count"),
    "brushes": ("count", "count"),
    "gloves, pairs": ("count", "count"),
}


#: The two ways of covering: plain cloth that is coated on the part, and cloth that is coloured and sealed.
SCHOOLS = ("separate coats", "pre-finished")


#: Densities of the fibres themselves [g/cm³] (common practice).
FIBRES = {"glass": 2.56, "carbon": 1.78, "aramid": 1.44}


#: What can hurt whoever works with it, and the usual care. The maker's instructions decide.
CAUTIONS = {
    "Hardener sensitises skin": "Gloves and sleeves; wash with soap, never with solvent.",
    "Burns": "No flame, no iron, no heat gun near it; its vapour travels along the floor.",
    "Vapour": "Fresh air, and a mask with the cartridge the maker names.",
    "Isocyanate": "Supplied air when sprayed; a cartridge mask is not enough.",
    "Peroxide": "Goggles. Never let it meet neat promoter: the two can explode.",
    "Dust": "A dust mask and a vacuum cleaner; never sweep it up dry.",
    "Rags": "Oily rags ignite by themselves: lay them flat outside, or keep them under water.",
    "Static": "Earth the can; no plastic funnel.",
    "Hot cup": "A big cup can smoke and catch fire: spread it out early.",
}


#: What each chemistry does to whoever works with it, whether or not its sheet says so (common practice).
HAZARD_OF = {
    "amine epoxy": "Hardener sensitises skin",
    "polyurethane": "Isocyanate",
    "peroxide": "Peroxide",
}


@dataclass(frozen=True)
class Field(Asked):
    """One thing a sheet may say: what is asked, and where it stands.

    Parameters
    ----------
    key : str
        Where it stands in the sheet, with dots.
    group, kinds : str, tuple of str
        Under which heading it is shown, and of which kinds of sheet.
    without : str
        What can't be computed when it is missing.
    """

    key: str = ""
    group: str = ""
    kinds: tuple[str, ...] = ()
    without: str = ""


def _fields() -> tuple[Field, ...]:
    celsius, gram, minute, day = ("°C", "°F"), ("g", "oz"), ("min", "min"), ("days", "days")
    cloths = ("cloth", "cover cloth")
    brushed = ("varnish", "primer", "paint", "cement")

    def f(key: str, label: str, group: str, kinds: tuple[str, ...], style: Style = "quantity", **more: Any) -> Field:
        return Field(label, style, key=key, group=group, kinds=kinds, **more)

    def temp(key: str, label: str, group: str, kinds: tuple[str, ...], without: str = "") -> Field:
        return f(key, label, group, kinds, dimension="temperature", unit=celsius, without=without)

    def ml(key: str, label: str, kinds: tuple[str, ...], without: str = "", group: str = "Mixing") -> Field:
        return f(key, label, group, kinds, dimension="density", scale=1000, unit=("g/ml", "g/ml"), without=without)

    bonds = ("laminating resin", "paste adhesive", "wood glue", "filler")
    two_parts = "the two lids to compare before weights are shown"
    return (
        f("lids.resin", "Resin lid says", "Mixing", MIXED, "words", without=two_parts),
        f("lids.hardener", "Hardener lid says", "Mixing", MIXED, "words", without=two_parts),
        f("chemistry", "Gets hard by", "Mixing", CURING, "choice", choices=CHEMISTRIES),
        f("ratio", "Ratio by weight", "Mixing", MIXED, "ratio", without="the masses to pour"),
        f("ratio_by_volume", "Ratio by volume", "Mixing", MIXED, "ratio", without="pump strokes and volumes"),
        f("range_pct", "Hardener, from – to %", "Mixing", MIXED, "range"),
        f("equivalents.epoxide", "Resin’s epoxide equivalent, g", "Mixing", MIXED),
        f("equivalents.amine", "Hardener’s amine equivalent, g", "Mixing", MIXED),
        f(
            "tolerance_pct",
            "Ratio may be off by",
            "Mixing",
            MIXED,
            dimension="share",
            unit=("%", "%"),
            without="whether a poured cup will do",
        ),
        ml("resin_density_g_ml", "Density of the resin", MIXED, "volumes, and a ratio by volume"),
        ml("hardener_density_g_ml", "Density of the hardener", MIXED, "volumes, and a ratio by volume"),
        f(
            "pot_life.minutes",
            "Pot life",
            "Mixing",
            MIXED,
            dimension="time",
            unit=minute,
            without="the working life and the heat of a cup, and how many cups to make",
        ),
        f(
            "pot_life.mass_g",
            "Cup of the pot life",
            "Mixing",
            MIXED,
            dimension="mass",
            unit=gram,
            without="the working life and the heat of a cup",
        ),
        temp(
            "pot_life.temp_c", "Temperature of the pot life", "Mixing", MIXED, "the working life and the heat of a cup"
        ),
        f(
            "widest_gap_mm",
            "Widest gap it fills",
            "Mixing",
            ("paste adhesive", "wood glue"),
            dimension="length",
            scale=1e-3,
            unit=("mm", "in"),
            without="whether a joint gapes too wide for it",
        ),
        f("clamp_min", "Clamped for", "Mixing", ("wood glue",), dimension="time", unit=minute),
        f("clamp_pressure", "Pressure of the clamps", "Mixing", ("wood glue",), "words"),
        f("induction_min", "Stands before use", "Mixing", MIXED, dimension="time", unit=minute),
        f(
            "cure.activation_energy_kj_mol",
            "Activation energy, kJ/mol",
            "Cure",
            CURING,
            without="the pace of a cold night",
        ),
        f("cure.activation_energy_band_kj_mol", "Activation energy may be off by, kJ/mol", "Cure", CURING),
        temp("cure.min_c", "Stands still below", "Cure", CURING, "whether a cold night stalls it"),
        temp("cure.max_c", "Not warmer than", "Cure", CURING),
        f("cure.max_rh_pct", "Air not damper than", "Cure", CURING, dimension="share", unit=("%", "%")),
        temp("glass_transition.full_c", "Glass transition when full", "Cure", bonds, "whether full is reached here"),
        f(
            "glass_transition.above_cure_k",
            "Glass transition climbs above the cure by",
            "Cure",
            bonds,
            dimension="temperature difference",
            unit=("K", "Δ°F"),
        ),
        temp("glass_transition.most_c", "Glass transition after the sheet’s post-cure", "Cure", bonds),
        f("hardness.least", "Hard enough from", "Cure", CURING),
        f("hardness.scale", "Hardness is on the scale", "Cure", CURING, "words"),
        ml("cured_density_g_ml", "Density when hard", bonds, "thickness and weight of a laminate", "Cure"),
        f(
            "spread_m2_l",
            "Spreads over, m² a litre and coat",
            "Use",
            brushed,
            without="how much a coat takes",
        ),
        f(
            "solids",
            "Left when dry, by weight",
            "Use",
            brushed,
            dimension="share",
            scale=100,
            unit=("%", "%"),
            low=0.02,
            high=1,
        ),
        f("used_as", "Used up as", "Use", ("consumable",), "choice", choices=tuple(USES)),
        f("use", "Filler for", "Use", ("filler powder",), "choice", choices=("structural", "fillet", "fairing")),
        ml("true_density_g_ml", "Density of its particles", ("filler powder",), "volume of a filled mix", "Use"),
        *(
            f(
                f"parts.{name}",
                f"Parts per 100 of mix, like {name}",
                "Use",
                ("filler powder",),
                without=f"a filled mix like {name}",
            )
            for name in CONSISTENCIES
        ),
        f(
            "areal_weight_g_m2",
            "Weight",
            "Cloth",
            cloths,
            dimension="areal weight",
            unit=("g/m²", "oz/yd²"),
            without="anything of a ply",
        ),
        f("fibre", "Fibre", "Cloth", ("cloth",), "choice", choices=tuple(FIBRES)),
        f(
            "fibre_density_g_cm3",
            "Density of the fibre",
            "Cloth",
            ("cloth",),
            dimension="density",
            scale=1000,
            unit=("g/ml", "g/ml"),
            without="thickness and fibre volume",
        ),
        f(
            "fibre_weight_fraction",
            "Fibre in the finished ply, by weight",
            "Cloth",
            ("cloth",),
            dimension="share",
            scale=100,
            unit=("%", "%"),
            without="resin of a ply",
        ),
        f(
            "hand_weight_fraction",
            "Fibre by weight, laid by hand",
            "Cloth",
            ("cloth",),
            dimension="share",
            scale=100,
            unit=("%", "%"),
        ),
        f("balanced", "Same at θ and θ + 90°", "Cloth", ("cloth",), "yes"),
        f("stitched", "Stitched in layers, not woven", "Cloth", ("cloth",), "yes"),
        f(
            "fibre_off_deg",
            "Its fibres run off its length by",
            "Cloth",
            ("cloth",),
            dimension="angle",
            unit=("°", "°"),
            low=0,
            high=90,
        ),
        f(
            "roll_width_m",
            "Width of the roll",
            "Cloth",
            (*cloths, "consumable"),
            dimension="length",
            unit=("m", "in"),
            without="pieces on the roll",
        ),
        f(
            "school",
            "School of covering",
            "Cloth",
            ("cover cloth", "cement"),
            "choice",
            choices=SCHOOLS,
        ),
        f("strength_lb_in", "Strength when new, lb/in", "Cloth", ("cover cloth",)),
        temp("slack_c", "Iron, taking up slack", "Cloth", ("cover cloth",)),
        temp("finish_c", "Iron, finishing", "Cloth", ("cover cloth", "tape")),
        temp("limit_c", "Iron, never above", "Cloth", ("cover cloth", "tape")),
        temp("tack_c", "Iron, tacking", "Cloth", ("tape",)),
        f("width_mm", "Width", "Cloth", ("tape",), dimension="length", scale=1e-3, unit=("mm", "in")),
        f(
            "thickness_mm",
            "Thickness",
            "Sheet",
            ("core", "sheet"),
            dimension="length",
            scale=1e-3,
            unit=("mm", "in"),
            without="thickness and weight",
        ),
        f(
            "density_kg_m3",
            "Density",
            "Sheet",
            ("core", "sheet", "solvent"),
            dimension="density",
            unit=("kg/m³", "lb/ft³"),
            without="its weight",
        ),
        f(
            "resin_uptake_g_m2_per_side",
            "Resin it drinks, per side",
            "Sheet",
            ("core",),
            dimension="areal weight",
            unit=("g/m²", "oz/yd²"),
            without="resin for its faces",
        ),
        f(
            "bends_to_m",
            "Bends cold, unscored, to a radius of",
            "Sheet",
            ("core",),
            dimension="length",
            unit=("mm", "in"),
        ),
        temp("softens_c", "Softens at", "Sheet", ("core",), "how hot a post-cure may be"),
        f("size_m.length", "Length", "Sheet", ("core", "sheet"), dimension="length", unit=("m", "in")),
        f("size_m.width", "Width", "Sheet", ("core", "sheet"), dimension="length", unit=("m", "in")),
        f("keep.sealed_days", "Keeps, sealed", "Keeping and buying", KINDS, dimension="time", scale=1440, unit=day),
        f("keep.opened_days", "Keeps, opened", "Keeping and buying", KINDS, dimension="time", scale=1440, unit=day),
        temp("keep.min_c", "Store not below", "Keeping and buying", KINDS),
        temp("keep.max_c", "Store not above", "Keeping and buying", KINDS),
        f("packs", "Packs", "Keeping and buying", KINDS, "words"),
        f("price", "Price", "Keeping and buying", KINDS, "words"),
        f("lead_days", "Comes within", "Keeping and buying", KINDS, dimension="time", scale=1440, unit=day),
        f("hazards", "Hazards", "Hazards", KINDS, "list", choices=tuple(CAUTIONS)),
    )


#: Consistencies of a filled mix, thin to stiff; the trade's own words.
CONSISTENCIES = ("syrup", "mayonnaise", "peanut butter")


FIELDS = _fields()


def fields_of(kind: str) -> tuple[Field, ...]:
    """What a sheet of this kind can say, in order; `Refused` for a kind there is not.

    >>> [field.key for field in fields_of("solvent")][:3]
    ['density_kg_m3', 'keep.sealed_days', 'keep.opened_days']
    """
    if kind not in KINDS:
        raise Refused("kind", f"“{kind[:60]}” is not a kind of data sheet; they are {', '.join(KINDS)}")
    return tuple(field for field in FIELDS if kind in field.kinds)

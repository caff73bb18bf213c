"""Every figure of a skin with its equation and inputs, for the side sheet and printed sheets."""

from __future__ import annotations

from kiteloom.core.cure import CureSystem, StageTime
from kiteloom.core.figures import Figure, Given
from kiteloom.core.laminate import Ply, PlyFigures, Stack, StackFigures
from kiteloom.core.mixing import Losses, Masses, MixSystem, ResinNeed
from kiteloom.core.shape import Panel, Side

_LOFT = "Straight loft from root to tip section, triangulated; each side by itself."
_PLY = "CMH-17 / MIL-HDBK-17 ply relations; no voids."


def shape_figures(panel: Panel, side: Side) -> tuple[Figure, ...]:
    """Areas, girths and edges of one side of a panel."""
    plan = panel.planform
    chords = (Given("root chord", plan.root_chord_m, "length"), Given("tip chord", plan.tip_chord_m, "length"))
    span, sweep = Given("span", plan.span_m, "length"), Given("sweep of the leading edge", plan.sweep_m, "length")
    sections = (Given("root section", panel.root.name), Given("tip section", panel.tip.name))
    figures = [
        Figure(
            "planform_area",
            "Planform area",
            plan.area_m2,
            "area",
            "span × (root chord + tip chord) ÷ 2",
            (span, *chords),
        ),
    ]
    for each in ("upper", "lower") if side == "upper" else ("lower", "upper"):
        figures.append(
            Figure(
                f"{each}_area",
                f"{each.capitalize()} skin area",
                panel.skin_area_m2(each),
                "area",
                "sum of the triangles between root and tip section",
                (span, *chords, sweep, *sections),
                _LOFT,
            )
        )
    for end, chord, section in (("root", chords[0], sections[0]), ("tip", chords[1], sections[1])):
        figures.append(
            Figure(
                f"{end}_girth",
                f"{end.capitalize()} girth, {side}",
                panel.girth_m(side, "root" if end == "root" else "tip"),
                "length",
                f"arc length of the section's {side} side, nose to trailing edge, × chord",
                (chord, section),
                "NACA Report 460 for NACA sections; the trailing edge's own thickness is left out.",
            )
        )
    figures += [
        Figure("leading_edge", "Leading edge", plan.leading_edge_m, "length", "√(span² + sweep²)", (span, sweep)),
        Figure(
            "trailing_edge",
            "Trailing edge",
            plan.trailing_edge_m,
            "length",
            "√(span² + (sweep + tip chord − root chord)²)",
            (span, sweep, *chords),
        ),
    ]
    return tuple(figures)


def stack_weights(stack: Stack, figures: StackFigures, area_m2: float, resin_density: float) -> tuple[Figure, ...]:
    """Thickness and weights of a stack, per square metre and for the surface."""
    area = Given("skin area", area_m2, "area")
    plies = tuple(
        Given(f"ply {i}, {ply.cloth.name}", ply.cloth.areal_weight_g_m2, "areal weight")
        for i, ply in enumerate(stack.plies, start=1)
    )
    resins = tuple(
        Given(f"resin in ply {i}", ply.resin_g_m2, "areal weight") for i, ply in enumerate(figures.plies, start=1)
    )
    core: tuple[Given, ...] = ()
    if stack.core:
        resins += (
            Given(
                "resin the core takes up, per side",
                stack.core.resin_uptake_g_m2_per_side,
                "areal weight",
                stack.core.uptake_assumed,
            ),
        )
        core = (
            Given("core thickness", stack.core.thickness_mm, "thickness"),
            Given("core density", stack.core.density_kg_m3, "density"),
        )
    rows = [
        ("fibre", "Fibre", figures.fibre_g_m2, "sum of the cloths", plies),
        (
            "resin",
            "Resin",
            figures.resin_g_m2,
            "sum over plies of cloth × (1 ÷ fibre share − 1), and both core faces",
            resins,
        ),
    ]
    if stack.core:
        rows.append(("core", "Core", figures.core_g_m2, "thickness × density", core))
    rows.append(("total", "Total", figures.areal_weight_g_m2, "fibre + resin + core", (*plies, *resins, *core)))
    found = [
        Figure(
            "thickness",
            "Thickness",
            figures.thickness_mm,
            "thickness",
            "sum over plies of cloth ÷ (fibre density × fibre volume fraction), and the core",
            (
                *(Given(f"ply {i}", ply.thickness_mm, "thickness") for i, ply in enumerate(figures.plies, start=1)),
                *core[:1],
                Given("cured resin", resin_density * 1000, "density"),
            ),
            _PLY,
        )
    ]
    for key, label, per_m2, equation, given in rows:
        found.append(Figure(f"{key}_per_m2", f"{label} per area", per_m2, "areal weight", equation, given, _PLY))
        found.append(
            Figure(
                f"{key}_mass",
                f"{label}, whole surface",
                per_m2 * area_m2,
                "mass",
                f"{label.lower()} per area × skin area",
                (Given(f"{label.lower()} per area", per_m2, "areal weight"), area),
                "In the part: losses are counted under Mix.",
            )
        )
    return tuple(found)


def ply_weights(ply: Ply, figures: PlyFigures, area_m2: float) -> tuple[Figure, ...]:
    """Thickness, fibre volume and resin of one ply on its surface."""
    cloth = (
        Given("cloth", ply.cloth.areal_weight_g_m2, "areal weight"),
        Given(
            "fibre share by weight",
            100 * ply.cloth.fibre_weight_fraction,
            "share",
            "fibre_weight_fraction" in ply.cloth.assumed,
        ),
        Given(
            "fibre density",
            1000 * ply.cloth.fibre_density_g_cm3,
            "density",
            "fibre_density_g_cm3" in ply.cloth.assumed,
        ),
    )
    resin = Given("resin in this ply", figures.resin_g_m2, "areal weight")
    return (
        Figure(
            "thickness",
            "Thickness",
            figures.thickness_mm,
            "thickness",
            "cloth ÷ (fibre density × fibre volume fraction)",
            cloth,
            _PLY,
        ),
        Figure(
            "fibre_volume",
            "Fibre by volume",
            100 * figures.fibre_volume_fraction,
            "share",
            "fibre volume ÷ (fibre volume + resin volume)",
            (*cloth, resin),
            _PLY,
        ),
        Figure(
            "resin_mass",
            "Resin",
            figures.resin_g_m2 * area_m2,
            "mass",
            "cloth × (1 ÷ fibre share − 1) × skin area",
            (*cloth, Given("skin area", area_m2, "area")),
            _PLY,
        ),
    )


def resin_figures(
    step: str, need: ResinNeed, losses: Losses, assumed: frozenset[str], mixed_g: float
) -> tuple[Figure, ...]:
    """Resin to mix for one step, what has been mixed, and what is left to mix."""
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
            "Mixed so far",
            mixed_g,
            "mass",
            "sum of the batches kept on this step",
            (),
            "The batches below.",
        ),
        Figure(
            f"{step}:left",
            "Still to mix",
            left,
            "mass",
            "to mix in all − mixed so far",
            (
                Given("to mix in all", need.total_g, "mass"),
                Given("mixed so far", mixed_g, "mass"),
                *(g for g in given if g.assumed),
            ),
            source,
        ),
    )


def pour_figures(system: MixSystem, wanted: Masses, lids: tuple[str, str]) -> tuple[Figure, ...]:
    """The two masses to pour for a cup."""
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


def stage_figure(
    system: CureSystem, stage: StageTime, mean_c: float, stalled_h: float, temperature: str, assumed: bool
) -> Figure:
    """When a stage is reached, counted from the mix."""
    given = [
        Given(f"hours to {stage.name} at the sheet's temperature", stage.hours * 60, "hours"),
        Given("the sheet's temperature", system.reference_c, "temperature"),
        _speed(system),
        Given("mean temperature until then", mean_c, "temperature", assumed),
        Given("temperature from", temperature, assumed=assumed),
    ]
    if system.min_c is not None:
        given += [
            Given("stands still below", system.min_c, "temperature"),
            Given("stood still for", stalled_h * 60, "hours", assumed),
        ]
    equation = "time at which ∫ exp[−Eₐ/R·(1/T − 1/T_ref)] dt equals the sheet's hours"
    source = "Maturity method (ASTM C1074 states it for concrete). It predicts; a reading releases the part."
    if system.rule_of_thumb:
        equation = "time at which ∫ (hours at T_ref ÷ hours at T) dt equals the sheet's hours, T by the sheet's table"
        source = "A rule of thumb: what dries goes by air, humidity and thickness too. A reading releases the part."
    return Figure(
        f"stage:{stage.name}",
        f"{stage.name.capitalize()}, after the mix",
        stage.minutes,
        "hours",
        equation,
        tuple(given),
        source,
    )


def _speed(system: CureSystem) -> Given:
    if system.rule_of_thumb:
        rows = ", ".join(f"{rate:.2g} at {celsius:g} °C" for celsius, rate in system.table)
        return Given("speed against the sheet's temperature", rows)
    name = "activation energy, kJ/mol" + (" (doubles every 10 °C)" if system.assumed else "")
    return Given(name, system.activation_energy_kj_mol, assumed=system.assumed)

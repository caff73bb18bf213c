"""From what: weights of plies and stacks."""

from __future__ import annotations

from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.laminate.cover import Covered, book_weights
from kiteloom.core.laminate.stack import Ply, PlyFigures, Stack, StackFigures

_PLY = "CMH-17 / MIL-HDBK-17 ply relations; no voids."


def stack_weights(
    stack: Stack, figures: StackFigures, area_m2: float, resin_density: float, scores_ml: float = 0.0
) -> tuple[Figure, ...]:
    """Thickness and weights of a stack, per square metre and for the surface; what fills its core's scores beside.

    >>> from kiteloom.core.laminate.stack import stack_figures
    >>> figures = stack_weights(SANDWICH, stack_figures(SANDWICH, 1.15), 2.0, 1.15)
    >>> [(figure.key, round(figure.value)) for figure in figures if figure.key.endswith("mass")]
    [('fibre_mass', 1680), ('resin_mass', 1697), ('core_mass', 1200), ('total_mass', 4577)]
    """
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
            "sum over plies of cloth × (1 ÷ fibre share − 1), and each core face that is laid on",
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
    scores = resin_density * scores_ml
    filled = (Given("fills the core’s scores", scores, "mass"),) if scores else ()
    for key, label, per_m2, equation, given in rows:
        more = key in ("resin", "total") and bool(filled)
        found.append(Figure(f"{key}_per_m2", f"{label} per area", per_m2, "areal weight", equation, given, _PLY))
        found.append(
            Figure(
                f"{key}_mass",
                f"{label}, whole surface",
                per_m2 * area_m2 + (scores if more else 0.0),
                "mass",
                f"{label.lower()} per area × skin area{' + what fills the scores' if more else ''}",
                (Given(f"{label.lower()} per area", per_m2, "areal weight"), area, *(filled if more else ())),
                "In the part: losses are counted under Mix.",
            )
        )
    return tuple(found)


def zoned_weights(stack: Stack, covered: Covered, resin_density: float) -> tuple[Figure, ...]:
    """Weights of a ply book with zones: each ply counts with what it covers.

    >>> from kiteloom.core.laminate.cover import even
    >>> [(figure.key, round(figure.value)) for figure in zoned_weights(SANDWICH, even(SANDWICH, 2.0), 1.15)]
    [('fibre_mass', 1680), ('resin_mass', 1697), ('core_mass', 1200), ('total_mass', 4577)]
    """
    found = book_weights(stack, covered, resin_density)
    names = [f"ply {i}, {ply.cloth.name}" for i, ply in enumerate(stack.plies, 1)]
    fibres = tuple(Given(name, ply.fibre_g, "mass") for name, ply in zip(names, found.plies, strict=True))
    resins = tuple(Given(name, ply.resin_g, "mass") for name, ply in zip(names, found.plies, strict=True))
    if stack.core is not None:
        scores = covered.scores_ml * resin_density
        drinks = found.core_resin_g - scores
        resins += (Given("taken up by the core", drinks, "mass", stack.core.uptake_assumed),)
        resins += (Given("fills the core’s scores", scores, "mass"),) if scores else ()
    rows: list[tuple[str, str, float, str, tuple[Given, ...]]] = [
        ("fibre", "Fibre", found.fibre_g, "sum of each cloth × what it covers", fibres),
        (
            "resin",
            "Resin",
            found.resin_g,
            "sum over plies of fibre × (1 ÷ fibre share − 1), and what each core face that is laid on takes up",
            resins,
        ),
    ]
    if stack.core is not None:
        core = (
            Given("what it covers", covered.core, "area"),
            Given("core thickness", stack.core.thickness_mm, "thickness"),
            Given("core density", stack.core.density_kg_m3, "density"),
        )
        rows.append(("core", "Core", found.core_g, "area × thickness × density", core))
    if found.inserts_g:
        inserts = tuple(
            Given(zone.words, grams, "mass") for zone, grams in zip(stack.hard, found.inserts_g, strict=True)
        )
        rows.append(
            ("insert", "Let in", sum(found.inserts_g), "area × the core’s thickness × density, of each", inserts)
        )
    parts = tuple(Given(label.lower(), grams, "mass") for _, label, grams, _, _ in rows)
    rows.append(("total", "Total", found.total_g, " + ".join(part.name for part in parts), parts))
    where = "In the part: losses are counted under Mix."
    return tuple(
        Figure(f"{key}_mass", f"{label}, whole surface", grams, "mass", equation, given, where)
        for key, label, grams, equation, given in rows
    )


def ply_weights(ply: Ply, figures: PlyFigures, area_m2: float) -> tuple[Figure, ...]:
    """Thickness, fibre volume and resin of one ply on its surface.

    >>> from kiteloom.core.laminate.stack import ply_figures
    >>> figures = ply_weights(Ply(GLASS, 45), ply_figures(GLASS, 1.15), 2.0)
    >>> [(figure.key, round(figure.value, 2)) for figure in figures]
    [('thickness', 0.29), ('fibre_volume', 38.28), ('resin_mass', 405.52)]
    """
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

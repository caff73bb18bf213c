"""From what: areas, girths and edges of a panel."""

from __future__ import annotations

from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.shape.loft import Panel, Side

_LOFT = "Straight loft from root to tip section, triangulated; each side by itself."


def shape_figures(panel: Panel, side: Side) -> tuple[Figure, ...]:
    """Areas, girths and edges of one side of a panel.

    >>> from kiteloom.core.shape.loft import Planform, naca4
    >>> tail = Panel(Planform(2, 0.8, 0.5), naca4("0009"), naca4("0009"))
    >>> [(figure.key, round(figure.value, 2)) for figure in shape_figures(tail, "upper")][:2]
    [('planform_area', 1.3), ('upper_area', 1.32)]
    """
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

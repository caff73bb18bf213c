"""From what: areas, girths and edges of a loft."""

from __future__ import annotations

from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.shape.loft import Loft
from kiteloom.core.shape.section import Side

_LOFT = "Straight loft from root to tip section, triangulated; each side by itself."


def shape_figures(loft: Loft, side: Side) -> tuple[Figure, ...]:
    """Areas, girths and edges of one side of a loft.

    >>> from kiteloom.core.shape.loft import Station
    >>> from kiteloom.core.shape.section import naca4
    >>> tail = Loft((Station(0, 0.8, 0, naca4("0009")), Station(2, 0.5, 0, naca4("0009"))))
    >>> [(figure.key, round(figure.value, 2)) for figure in shape_figures(tail, "upper")][:2]
    [('planform_area', 1.3), ('upper_area', 1.32)]
    """
    root, tip = loft.stations[0], loft.stations[-1]
    chords = (Given("root chord", root.chord_m, "length"), Given("tip chord", tip.chord_m, "length"))
    span = Given("span", loft.span_m, "length")
    sweep = Given("sweep of the leading edge", tip.leading_m - root.leading_m, "length")
    sections = (Given("root section", root.section.name), Given("tip section", tip.section.name))
    # Between two stations it is one straight bay; between more, each figure is the sum over them.
    bays = (Given("bays between stations", len(loft.bays)),) if len(loft.bays) > 1 else ()
    summed = ", summed over its bays" if bays else ""
    figures = [
        Figure(
            "planform_area",
            "Planform area",
            loft.area_m2,
            "area",
            f"span × (root chord + tip chord) ÷ 2{summed}",
            (span, *chords, *bays),
        ),
    ]
    for each in ("upper", "lower") if side == "upper" else ("lower", "upper"):
        figures.append(
            Figure(
                f"{each}_area",
                f"{each.capitalize()} skin area",
                loft.skin_area_m2(each),
                "area",
                "sum of the triangles between root and tip section",
                (span, *chords, sweep, *sections, *bays),
                _LOFT,
            )
        )
    for end, chord, section in (("root", chords[0], sections[0]), ("tip", chords[1], sections[1])):
        figures.append(
            Figure(
                f"{end}_girth",
                f"{end.capitalize()} girth, {side}",
                loft.girth_m(side, "root" if end == "root" else "tip"),
                "length",
                f"arc length of the section's {side} side, nose to trailing edge, × chord",
                (chord, section),
                "NACA Report 460 for NACA sections; the trailing edge's own thickness is left out.",
            )
        )
    figures += [
        Figure(
            "leading_edge",
            "Leading edge",
            loft.leading_edge_m,
            "length",
            f"√(span² + sweep²){summed}",
            (span, sweep, *bays),
        ),
        Figure(
            "trailing_edge",
            "Trailing edge",
            loft.trailing_edge_m,
            "length",
            f"√(span² + (sweep + tip chord − root chord)²){summed}",
            (span, sweep, *chords, *bays),
        ),
    ]
    return tuple(figures)

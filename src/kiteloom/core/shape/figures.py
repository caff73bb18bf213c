"""From what: areas, girths, edges and ribs of a shape."""

from __future__ import annotations

from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.shape.flat import Flat, Pieces, Shape, Strips
from kiteloom.core.shape.loft import Loft
from kiteloom.core.shape.section import Side

_LOFT = "Straight from station to station at equal fractions of the chord, triangulated; each side by itself."
_SIDES: tuple[Side, Side] = ("upper", "lower")


def shape_figures(shape: Shape, side: Side) -> tuple[Figure, ...]:
    """Areas, girths and edges of a shape; of a loft the given side's first.

    >>> from kiteloom.core.shape.loft import Station
    >>> from kiteloom.core.shape.section import naca4
    >>> flat = naca4("0009")
    >>> tail = Loft((Station(0, 0.8, section=flat), Station(2, 0.5, section=flat)))
    >>> [(figure.key, round(figure.value, 2)) for figure in shape_figures(tail, "upper")][:2]
    [('planform_area', 1.3), ('upper_area', 1.32)]
    """
    if isinstance(shape, Loft):
        return tuple(_loft(shape, side))
    if isinstance(shape, Flat):
        return tuple(_flat(shape))
    if isinstance(shape, Strips):
        return tuple(_strips(shape))
    return tuple(_pieces(shape))


def _loft(loft: Loft, side: Side) -> list[Figure]:
    root, tip = loft.stations[0], loft.stations[-1]
    chords = (Given("root chord", root.chord_m, "length"), Given("tip chord", tip.chord_m, "length"))
    span = Given("span", loft.span_m, "length")
    sweep = Given("sweep of the leading edge", tip.leading_edge_m - root.leading_edge_m, "length")
    sections = (Given("root section", root.section.name), Given("tip section", tip.section.name))
    # Between two stations it is one straight bay; between more, each figure is the sum over them.
    bays = (Given("bays between stations", len(loft.stations) - 1, "count"),) if len(loft.stations) > 2 else ()
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
    for each in _SIDES if side == "upper" else _SIDES[::-1]:
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
            f"√(span² + sweep² + rise²){summed}",
            (span, sweep, Given("rise", tip.height_m - root.height_m, "length"), *bays),
        ),
        Figure(
            "trailing_edge",
            "Trailing edge",
            loft.trailing_edge_m,
            "length",
            f"distance between the sections' last points{summed}",
            (span, sweep, *chords, *bays),
            "A trailing edge is midway between the last points of both sides.",
        ),
    ]
    return figures + _ribs(loft, side)


def _ribs(loft: Loft, side: Side) -> list[Figure]:
    ribs, figures = loft.ribs, list[Figure]()
    if ribs.at_m:
        count = Given("ribs", len(ribs.at_m), "count")
        figures.append(Figure("ribs", "Ribs", len(ribs.at_m), "count", "places along the span", (count,)))
        if loft.rib_bays_m:
            bays = loft.rib_bays_m
            between = (count, Given("bays", len(bays), "count"), Given("narrowest bay", min(bays), "length"))
            figures.append(
                Figure("widest_bay", "Widest bay", max(bays), "length", "greatest distance from rib to rib", between)
            )
    if ribs.width_m or ribs.edge_m:
        figures.append(
            Figure(
                "landing",
                f"Landing, {side}",
                loft.landing_m2(side),
                "area",
                "ribs' girths × cap width + (both edges + root and tip girth) × edge land",
                (
                    Given("ribs", len(ribs.at_m), "count"),
                    Given("cap width", ribs.width_m, "length"),
                    Given("edge land", ribs.edge_m, "length"),
                ),
                "Cloth wants at least 25 mm of glued land along an edge (common practice).",
            )
        )
    return figures


def _flat(shape: Flat) -> list[Figure]:
    holes = sum(len(one.holes) for one in shape.outlines)
    counts = (Given("outlines", len(shape.outlines), "count"), Given("holes", holes, "count"))
    return [
        Figure("face_area", "One face", shape.skin_area_m2("upper"), "area", "outlines without their holes", counts),
        Figure(
            "both_faces",
            "Both faces",
            2 * shape.skin_area_m2("upper"),
            "area",
            "2 × one face",
            (Given("one face", shape.skin_area_m2("upper"), "area"),),
        ),
        Figure("edge", "Edges", shape.edge_m, "length", "round each outline and each hole", counts),
        Figure("length", "Length", shape.span_m, "length", "from end to end along its axis", counts),
    ]


def _strips(shape: Strips) -> list[Figure]:
    halved = shape.measured == "all round"
    share = (Given("share of either side", 0.5, assumed=True),) if halved else ()
    given = (Given("measures", len(shape.strips), "count"), Given("taken", shape.measured), *share)
    note = "Straight between the measures; distances count along the surface."
    if halved:
        note += " Each side is taken as half of what was measured all round."
    area = shape.skin_area_m2("upper")
    formula = "Σ mean measure × distance" + (" ÷ 2" if halved else "")
    return [
        Figure("face_area", "One side", area, "area", formula, given, note),
        Figure("both_faces", "Both sides", 2 * area, "area", "2 × one side", (Given("one side", area, "area"),), note),
        Figure("edge", "Edges", shape.edge_m, "length", "both long edges and both ends, laid flat", given, note),
        Figure("length", "Length", shape.span_m, "length", "first measure to last, along the surface", given),
    ]


def _pieces(shape: Pieces) -> list[Figure]:
    rows = tuple(
        Given(
            f"{row.count} × {row.name}", row.one_face_m2 or row.length_m or 0.0, "area" if row.one_face_m2 else "length"
        )
        for row in shape.pieces
    )
    figures = [Figure("pieces", "Pieces", shape.count, "count", "Σ how many", rows)]
    if shape.skin_area_m2("upper"):
        sides = "Σ how many × (2 × one face + round it × thickness)"
        figures += [
            Figure("face_area", "One face", shape.skin_area_m2("upper"), "area", "Σ how many × one face", rows),
            Figure("all_sides", "All sides", shape.all_sides_m2, "area", sides, rows),
        ]
    if shape.edge_m:
        edge = Figure("edge", "Edges", shape.edge_m, "length", "Σ how many × 2 × (length + width)", rows)
        figures.append(edge)
    if shape.length_m:
        figures.append(Figure("length", "Lengths together", shape.length_m, "length", "Σ how many × length", rows))
    return figures

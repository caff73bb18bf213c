"""Drawings as other programs leave them: old polylines, arrays of blocks, transforms, units, and what is no drawing."""

import io
import math

import ezdxf
import pytest

from kiteloom.core.base.problems import Refused
from kiteloom.core.shape.outline import outlines_of
from kiteloom.formats.outline_files import loops_in


def drawn(build, units=4, version="R2010"):
    drawing = ezdxf.new(version, units=units)
    build(drawing.modelspace(), drawing)
    text = io.StringIO()
    drawing.write(text)
    return text.getvalue()


def svg(body, **root):
    attributes = "".join(f' {name.replace("_", "-")}="{value}"' for name, value in root.items())
    return f'<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg"{attributes}>{body}</svg>'


def measured(text, kind, unit=None):
    loops, used, assumed = loops_in(kind, text, unit)
    outlines, more = outlines_of(loops)
    return sum(one.area_mm2 for one in outlines), [len(one.holes) for one in outlines], used, [*assumed, *more]


def square(space, at, side, **more):
    x, y = at
    space.add_lwpolyline([(x, y), (x + side, y), (x + side, y + side), (x, y + side)], close=True, **more)


def old_polyline(space, _):
    space.add_polyline2d([(0, 0, 0), (100, 0, 1), (100, 60, 0), (0, 60, 0)], format="xyb", close=True)


def open_but_met(space, _):
    space.add_lwpolyline([(0, 0), (100, 0), (100, 60), (0, 60), (0, 0.03)])


def an_array_of_blocks(space, drawing):
    block = drawing.blocks.new("hole")
    block.add_circle((0, 0), 5)
    inner = drawing.blocks.new("pair")
    inner.add_blockref("hole", (0, 0))
    inner.add_blockref("hole", (20, 0))
    space.add_blockref(
        "pair", (20, 20), dxfattribs={"column_count": 2, "row_count": 2, "column_spacing": 50, "row_spacing": 20}
    )
    square(space, (0, 0), 120)


def seen_from_below(space, _):
    space.add_circle((50, 0), 10, dxfattribs={"extrusion": (0, 0, -1)})
    space.add_lwpolyline([(0, 0, 1), (20, 0, 0)], format="xyb", close=True, dxfattribs={"extrusion": (0, 0, -1)})


def drawn_twice(space, _):
    for start in (0, 2):
        corners = [(0, 0), (40, 0), (40, 40), (0, 40)]
        space.add_lwpolyline(corners[start:] + corners[:start], close=True)


def beside_other_things(space, _):
    square(space, (0, 0), 30)
    space.add_text("RIB 7")
    space.add_mtext("two of each")
    space.add_point((5, 5))
    space.add_linear_dim(base=(0, -10), p1=(0, 0), p2=(30, 0)).render()


DXF = [
    (old_polyline, 6000 + math.pi * 30**2 / 2, [0], ""),
    (open_but_met, 6000, [0], ""),
    (an_array_of_blocks, 14400 - 8 * math.pi * 25, [8], ""),
    (seen_from_below, math.pi * 100 + math.pi * 50, [0, 0], ""),
    (drawn_twice, 1600, [0], "drawn twice"),
    (beside_other_things, 900, [0], "left out, as they are no outline: 1 DIMENSION, 1 MTEXT, 1 POINT, 1 TEXT"),
]


@pytest.mark.parametrize(("build", "area", "holes", "said"), DXF, ids=lambda value: getattr(value, "__name__", ""))
def test_a_dxf_is_read_as_it_is_seen(build, area, holes, said):
    found, inside, unit, assumed = measured(drawn(build), "dxf")
    assert found == pytest.approx(area, rel=6e-4)
    assert (sorted(inside), unit) == (holes, "mm")
    assert said in "; ".join(assumed)


@pytest.mark.parametrize(
    ("units", "name", "factor"), [(1, "in", 25.4), (2, "ft", 304.8), (5, "cm", 10), (6, "m", 1000)]
)
def test_a_dxf_has_the_unit_of_its_header_unless_another_is_said(units, name, factor):
    text = drawn(lambda space, _: square(space, (0, 0), 3), units)
    assert measured(text, "dxf")[:3] == (pytest.approx(9 * factor**2), [0], name)
    assert measured(text, "dxf", "mm")[0] == pytest.approx(9)


SVG = [
    (svg('<rect width="40" height="30"/>', width="40mm", height="30mm", viewBox="0 0 40 30"), 1200, "mm"),
    (svg('<rect width="40" height="30"/>', width="4cm", height="3cm", viewBox="0 0 40 30"), 1200, "cm"),
    (svg('<rect width="72" height="72"/>', width="72pt", height="72pt", viewBox="0 0 72 72"), 25.4**2, "pt"),
    (svg('<rect width="1in" height="50mm"/>', width="300mm", height="100mm"), 25.4 * 50, "mm"),
    (svg('<rect width="96" height="96"/>', width="100%", viewBox="0 0 96 96"), 25.4**2, "px"),
    (svg('<rect width="96" height="96"/>', width="192", height="192", viewBox="0 0 96 96"), 4 * 25.4**2, "px"),
    (
        svg('<g transform="scale(2) rotate(30)"><circle r="10" cx="50" cy="5"/></g>', width="9mm", viewBox="0 0 9 9"),
        math.pi * 400,
        "mm",
    ),
    (
        svg('<defs><path id="a" d="M0 0h10v10h-10z"/></defs><use href="#a" x="5"/>', width="9mm", viewBox="0 0 9 9"),
        100,
        "mm",
    ),
    (svg('<polygon points="0,0 30,0 0,40"/>', width="9mm", viewBox="0 0 9 9"), 600, "mm"),
    (svg('<path d="m10 10 h20 v20 h-20 z m5 5 h5 v5 h-5 z"/>', width="9mm", viewBox="0 0 9 9"), 375, "mm"),
    (svg('<path d="M0 0 A20 20 0 0 1 40 0 Z"/>', width="9mm", viewBox="0 0 9 9"), math.pi * 200, "mm"),
    (
        svg(
            '<ellipse cx="9" cy="9" rx="8" ry="4"/><clipPath id="c"><rect width="99" height="99"/></clipPath>',
            width="9mm",
            viewBox="0 0 9 9",
        ),
        math.pi * 32,
        "mm",
    ),
]


@pytest.mark.parametrize(("text", "area", "unit"), SVG, ids=range(len(SVG)))
def test_an_svg_is_read_as_it_is_seen(text, area, unit):
    found, _, used, assumed = measured(text, "svg")
    assert found == pytest.approx(area, rel=6e-4)
    assert used == unit
    assert any("1/96 in" in words for words in assumed) == (unit == "px")


def test_one_user_unit_is_what_it_is_said_to_be_and_up_is_up():
    text = svg('<path d="M0 0 h4 v1 h-3 v2 h-1 z"/>', width="400mm", viewBox="0 0 4 4")
    assert measured(text, "svg", "in")[:3] == (pytest.approx(6 * 25.4**2), [0], "in")
    (outline,) = outlines_of(loops_in("svg", text, "mm")[0])[0]
    assert min(y for _, y in outline.outer) == pytest.approx(-3)  # what is drawn down is below


@pytest.mark.parametrize(
    ("text", "named"),
    [
        ("", "no SVG drawing"),
        ("<html/>", "begins with “html”"),
        (svg('<text>RIB</text><script>alert("x")</script>', width="9mm"), "no closed line"),
        (svg('<path d="M0 0h9v9"/>', width="9mm", viewBox="0 0 9 9"), "does not close"),
        (svg('<path d="M0 0h9v9h-9z M4 4h9v9h-9z"/>', width="9mm", viewBox="0 0 9 9"), "two loops cross"),
        (svg('<path d="M0 0L9 9L9 0L0 9z"/>', width="9mm", viewBox="0 0 9 9"), "crosses or touches itself"),
        (svg('<rect width="999999" height="2"/>', width="9m", viewBox="0 0 9 9"), "at most 100000 mm"),
    ],
)
def test_an_svg_that_is_no_outline_is_refused_with_the_reason(text, named):
    with pytest.raises(Refused) as refused:
        measured(text, "svg")
    assert named in refused.value.sentence


def test_a_dxf_that_is_none_or_too_large_or_in_a_strange_unit_is_refused():
    for text, named in (
        ("hello", "no DXF drawing, or cut off"),
        (drawn(lambda space, _: square(space, (0, 0), 3), 4)[:4000], "cut off"),
        (drawn(lambda space, _: square(space, (0, 0), 3), 13), "a unit that is not built in"),
        (drawn(lambda space, _: square(space, (0, 0), 300), 6), "at most 100000 mm"),
        (drawn(lambda space, _: space.add_text("only words")), "no closed line"),
        (drawn(lambda space, _: space.add_line((0, 0), (9, 0))), "does not close"),
    ):
        with pytest.raises(Refused) as refused:
            measured(text, "dxf")
        assert named in refused.value.sentence
    with pytest.raises(Refused, match="“furlong” is not a unit"):
        measured(drawn(lambda space, _: square(space, (0, 0), 3)), "dxf", "furlong")

"""Shapes typed by builders: what is shown is what is read, in either system; what rests on them follows."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.shapes import retyped

from kiteloom.core.base.problems import Refused
from kiteloom.core.shape import reading
from kiteloom.workshop.shape.typed import (
    OutlineTyped,
    PieceTyped,
    RibsTyped,
    SectionTyped,
    ShapeTyped,
    StationTyped,
    StripTyped,
    read_shape,
    typed_shape,
)

metres = st.floats(0.01, 9).map(lambda v: round(v, 5))
stations = st.lists(
    st.fixed_dictionaries(
        {
            "step": metres,
            "chord_m": metres,
            "twist_deg": st.sampled_from([0, -1.5, 2]),
            "naca": st.sampled_from(["0012", "4415"]),
        }
    ),
    min_size=2,
    max_size=5,
)


def loft_of(rows):
    at, says = 0.0, []
    for row in rows:
        said = {"at_m": at, "chord_m": row["chord_m"], "section": {"naca": row["naca"]}}
        says.append({**said, "twist_deg": row["twist_deg"]} if row["twist_deg"] else said)
        at += row["step"]
    return {"stations": says, "ribs": {"every_m": at / 7 + 0.02, "width_m": 0.008}}


pieces = st.lists(
    st.fixed_dictionaries(
        {"name": st.sampled_from(["rib", "gusset"]), "count": st.integers(1, 90), "length_m": metres},
        optional={"width_m": metres, "thickness_m": st.floats(0.001, 0.05), "face_m2": metres},
    ),
    min_size=1,
    max_size=4,
)


@given(rows=stations, kinds=pieces, shown=st.sampled_from(["metric", "us"]))
def test_what_is_shown_is_read_back_to_the_last_digit(rows, kinds, shown):
    strips = {
        "measured": "all round",
        "strips": [{"at_m": n * 0.31, "across_m": r["chord_m"]} for n, r in enumerate(rows)],
    }
    outline = {"outlines": [{"outer_mm": [[0.0, 0.0], [1234.5678, 0.1], [3.3, 987.654321]], "holes_mm": []}]}
    for kind, says in (
        ("loft", loft_of(rows)),
        ("pieces", {"pieces": kinds}),
        ("strips", strips),
        ("outline", outline),
    ):
        typed = typed_shape(kind, says, shown)
        assert reading.shape(kind, read_shape(typed, shown, says).says) == reading.shape(kind, says)
        # Without what was kept the text alone is near enough to build by.
        alone = reading.shape(kind, read_shape(typed, shown).says)
        assert alone.span_m == pytest.approx(reading.shape(kind, says).span_m, rel=1e-4)


def test_a_builders_own_words_are_understood():
    ribs = RibsTyped("at stations", "8 mm", "1 in")
    rows = (
        StationTyped("0", "5 ft", section=SectionTyped(naca="NACA 2412")),
        StationTyped("9' 6\"", "1 m", "35 1/2 in", "200 mm", "-2"),
    )
    says = read_shape(ShapeTyped("loft", stations=rows, ribs=ribs), "us").says
    assert says["stations"][1] == {
        "at_m": pytest.approx(2.8956),
        "chord_m": 1.0,
        "leading_edge_m": pytest.approx(0.9017),
        "height_m": pytest.approx(0.2),
        "twist_deg": -2.0,
        "section": {"naca": "2412"},
    }
    assert says["ribs"] == {"at_stations": True, "width_m": 0.008, "edge_m": pytest.approx(0.0254)}
    # Rows with nothing in them are no rows; a bare number is meant in the system it was typed for.
    pieces_ = (PieceTyped("rib", "4", "12", "3"), PieceTyped())
    assert read_shape(ShapeTyped("pieces", system="us", pieces=pieces_), "metric").says["pieces"] == [
        {"name": "rib", "count": 4, "length_m": pytest.approx(0.3048), "width_m": pytest.approx(0.0762)}
    ]
    feet = OutlineTyped("0 0\n2 0\n2 1", unit="ft")
    loop = read_shape(ShapeTyped("outline", outline=feet), "metric").says["outlines"][0]["outer_mm"]
    assert loop[1] == [pytest.approx(609.6), 0.0]


@pytest.mark.parametrize(
    ("shape", "field", "named"),
    [
        (
            ShapeTyped("loft", stations=(StationTyped("0", "1"), StationTyped("1", "1"))),
            "stations.0.section",
            "no section",
        ),
        (ShapeTyped("loft", stations=(StationTyped("", "1"),) * 2), "stations.0.at_m", "row 1: along the span is not"),
        (
            ShapeTyped("strips", strips=(StripTyped("0", "1"), StripTyped("1", ""))),
            "strips.1.across_m",
            "row 2: measured",
        ),
        (ShapeTyped("strips", strips=()), "strips", "number of measures is 0"),
        (ShapeTyped("pieces", pieces=(PieceTyped("rib", "2.5", "1"),)), "pieces.0.count", "a whole number is wanted"),
        (
            ShapeTyped("pieces", pieces=(PieceTyped(count="2", length="1"),)),
            "pieces.0.name",
            "row 1: what is not given",
        ),
        (ShapeTyped("outline"), "outline", "no corner is given yet"),
        (ShapeTyped("outline", outline=OutlineTyped("0 0\n1 1")), "outline", "has 2 corners"),
        (ShapeTyped("outline", outline=OutlineTyped(dxf="0\nEOF\n", unit="yd")), "unit", "“yd” is not a unit"),
    ],
)
def test_what_is_missing_is_named_by_row_and_field(shape, field, named):
    with pytest.raises(Refused) as refused:
        read_shape(shape, "metric")
    assert refused.value.field == field
    assert named in refused.value.sentence


def test_amounts_steps_and_the_plan_follow_a_shape_and_what_was_done_stays(shop):
    ribs, upper = shop.part("Left wing, aft ribs"), shop.part("Left wing, upper skin")

    def asked():
        mix = shop.get(f"/parts/{upper}/mix")
        return sum(figure["value"] for need in mix["needs"] for figure in need["figures"] if figure["key"] == "total")

    view = shop.get(f"/parts/{upper}/shape")
    before, done = asked(), len(shop.get(f"/parts/{ribs}/mix")["batches"])
    ends = shop.get("/loom")["sentence"]
    shop.ask("PATCH", f"/shapes/{view['shape_id']}", retyped(view, at_2="10.8"))
    assert asked() == pytest.approx(before * 1.5, rel=0.05)
    assert shop.get("/loom")["sentence"] != ends
    assert len(shop.get(f"/parts/{ribs}/mix")["batches"]) == done > 0


def test_a_shape_becomes_one_of_another_kind_and_jobs_say_what_that_means(shop):
    rudder = shop.part("Rudder")
    view = shop.get(f"/parts/{rudder}/shape")
    shape = {"kind": "outline", "outline": {"points": "0, 0\n1350, 0\n1350, -440\n0, -620"}}
    shop.ask("PATCH", f"/shapes/{view['shape_id']}", {"version": view["version"], "reason": "", "shape": shape})
    after = shop.get(f"/parts/{rudder}/shape")
    assert after["typed"]["kind"] == "outline"
    assert "20 joints" in json.dumps(shop.get(f"/parts/{rudder}/times"))  # ten ribs along its length as before
    pieces_ = {"kind": "pieces", "pieces": [{"name": "rib", "count": "3", "length": "400"}]}
    body = {"version": after["version"], "reason": "", "shape": pieces_}
    shop.ask("PATCH", f"/shapes/{view['shape_id']}", body)
    told = shop.ask("PATCH", f"/shapes/{view['shape_id']}", {**body, "version": view["version"]}, 409)
    assert told["changed"] == ["shape by stations → flat outline", "shape flat outline → like pieces"]
    tailplane = shop.part("Tailplane")
    view = shop.get(f"/parts/{tailplane}/shape")
    shop.ask("PATCH", f"/shapes/{view['shape_id']}", {**body, "version": view["version"], "reason": "as built"})
    cant = [job["sentence"] for job in shop.get(f"/parts/{tailplane}")["jobs"] if job["state"] == "can't be made"]
    assert cant[0] == "its shape is like pieces; by stations or flat outline or measured strips is wanted"
    assert shop.get("/today")["sentence"]  # everything else is planned

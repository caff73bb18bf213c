"""Sides laid flat, zones and stages: what must hold for any shape and any book."""

from collections import Counter
from dataclasses import replace
from itertools import combinations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import affinity, union_all
from shapely.geometry import LineString, Point, Polygon
from tests.core import tasks
from tests.core.tasks import FOAM, GLASS

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.recipes import recipe_of
from kiteloom.core.build.stays import what_stays
from kiteloom.core.laminate.cover import cover_of
from kiteloom.core.laminate.doubts import doubts
from kiteloom.core.laminate.pieces import Cutting, cut_up, joints_of, pieces_of
from kiteloom.core.laminate.stack import Ply, Stack
from kiteloom.core.laminate.zones import Band, Corner, Drawn, Strip, Zone, zone_of, zone_on, zone_says
from kiteloom.core.shape.flat import Flat, Piece, Pieces, StripAt, Strips
from kiteloom.core.shape.loft import Loft, Station
from kiteloom.core.shape.outline import Outline
from kiteloom.core.shape.section import naca4
from kiteloom.core.shape.skin import skin_of

SIDE = Outline(
    ((0, 0), (2400, -80), (2400, 420), (600, 520), (0, 380)), (((900, 100), (1300, 100), (1300, 300), (900, 300)),)
)
SHAPES = {
    "wing": Loft(
        (
            Station(0.2, 1.1, section=naca4("2415")),
            Station(2.0, 1.0, 0.06, 0.1, 1, section=naca4("2415")),
            Station(5.0, 0.5, 0.3, 0.4, -2, section=naca4("0010")),
        )
    ),
    "cone": Loft((Station(0, 0.8, section=naca4("0024")), Station(0.6, 0.0, 0.3, 0.1, section=naca4("0024")))),
    "strips": Strips((StripAt(0.1, 0.6), StripAt(0.5, 1.0), StripAt(1.4, 0.3)), "all round"),
    "outline": Flat((SIDE,)),
}
shapes = st.sampled_from(sorted(SHAPES))
shares = st.floats(0, 1)


def ends(skin):
    return float(skin.at_m[0]), float(skin.at_m[-1])


@given(name=shapes, places=st.lists(st.tuples(shares, st.floats(0.02, 0.98)), min_size=1, max_size=20))
@settings(max_examples=60, deadline=None)
def test_a_place_laid_flat_is_found_again(name, places):
    skin = skin_of(SHAPES[name], "upper")
    low, high = ends(skin)
    # Where a side comes to a point its places lie on each other.
    at = np.array([low + 0.9 * along * (high - low) for along, _ in places])
    share = np.array([across for _, across in places])
    back = skin.found(skin.place(at, share))
    assert back[:, 0] == pytest.approx(at, abs=1e-6)
    assert back[:, 1] == pytest.approx(share, abs=1e-6)


@pytest.mark.parametrize("name", sorted(SHAPES))
@pytest.mark.parametrize("side", ["upper", "lower"])
def test_a_side_laid_flat_keeps_its_area(name, side):
    skin = skin_of(SHAPES[name], side)
    assert skin.area_of(skin.whole) == pytest.approx(SHAPES[name].skin_area_m2(side), rel=2e-5)


@given(name=shapes, bands=st.lists(st.tuples(shares, shares, shares, shares), min_size=1, max_size=4))
@settings(max_examples=40, deadline=None)
def test_the_stacks_side_by_side_are_all_of_the_side_and_nothing_twice(name, bands):
    skin = skin_of(SHAPES[name], "upper")
    low, high = ends(skin)
    zones = []
    for n, (a, b, c, d) in enumerate(bands):
        along, across = sorted((a, b)), sorted((c, d))
        if along[1] - along[0] > 0.05 and across[1] - across[0] > 0.05:
            from_m, to_m = (low + share * (high - low) for share in along)
            zones.append(Zone(f"z{n}", Band(from_m, to_m, *across)))
    # The one hole of the outline may swallow a band whole: that is refused, and not what is asked here.
    zones = [
        zone
        for zone in zones
        if skin.between(zone.place.from_m, zone.place.to_m, zone.place.lead, zone.place.tail).area
    ]
    plies = (Ply(GLASS, 45), *(Ply(GLASS, 0, zone.name) for zone in zones))
    cover = cover_of(Stack(plies, zones=tuple(zones)), skin)
    regions = cover.regions(1.15)
    assert sum(row.area_m2 for row in regions) == pytest.approx(skin.area_of(skin.whole), rel=1e-5)
    for n, zone in enumerate(zones, 1):
        under = sum(row.area_m2 for row in regions if zone.name in row.zones)
        assert under == pytest.approx(cover.covered.plies[n], rel=1e-4)


@given(step=st.floats(0.002, 0.05), count=st.integers(2, 6))
@settings(max_examples=25, deadline=None)
def test_plies_of_a_zone_end_one_inside_the_other_or_over_it(step, count):
    skin = skin_of(SHAPES["wing"], "upper")
    for by in (step, -step):
        plies = tuple(Ply(GLASS, 0, "root") for _ in range(count))
        cover = cover_of(Stack(plies, zones=(Zone("root", Band(0.2, 1.5), by),)), skin)
        pairs = list(zip(cover.plies, cover.plies[1:], strict=False))
        for before, after in pairs:
            inner, outer = (after, before) if by > 0 else (before, after)
            assert inner.area < outer.area
            assert inner.difference(outer.buffer(1e-9)).area == pytest.approx(0, abs=1e-9)
            assert outer.difference(skin.whole.buffer(1e-9)).area == pytest.approx(0, abs=1e-9)
        assert cover.covered.outside[0] == pytest.approx(max(cover.covered.plies))


def test_a_hole_is_in_no_zone():
    skin = skin_of(SHAPES["outline"], "upper")
    across = zone_on(skin, Zone("middle", Band(0.8, 1.4)))
    assert not across.contains(Point(1.1, 0.2))
    assert across.area == pytest.approx(skin.between(0.8, 1.4).area)
    with pytest.raises(Refused, match="covers nothing of the part"):
        zone_on(skin, Zone("in the door", Drawn(tuple(Corner(x, c) for x, c in ((1.0, 0.5), (1.2, 0.5), (1.1, 0.6))))))


def test_a_strip_is_as_wide_as_it_says_whatever_way_it_runs():
    skin = skin_of(SHAPES["wing"], "lower")
    for place in (Strip(0.2, 0.3, 5.0, 0.3, 0.08), Strip(0.5, 0.1, 4.0, 0.8, 0.05)):
        strip = zone_on(skin, Zone("strip", place))
        line = LineString(
            skin.place(np.array([place.from_m, place.to_m]), np.array([place.from_share, place.to_share]))
        )
        assert strip.area == pytest.approx(line.length * place.width_m, rel=0.01)


def test_like_pieces_have_no_zones_and_every_zone_is_read_back_as_it_was_written():
    with pytest.raises(Refused, match="like pieces"):
        skin_of(Pieces((Piece("rib", 4, 1.0, 0.1),)), "upper")
    corners = tuple(Corner(at, share) for at, share in ((1.0, 0.1), (2.0, 0.1), (1.5, 0.6)))
    for place in (Band(0.2, 1.0, 0.1, 0.9), Strip(0.2, 0.1, 3.0, 0.4, 0.06), Drawn(corners)):
        zone = Zone("root", place, 0.012)
        assert zone_of(zone_says(zone)) == zone
    for says, field in (
        ({"kind": "drawn", "name": "a", "corners": 5}, "zones.2.corners"),
        ({"kind": "drawn", "name": "a", "corners": [1, 2, 3]}, "zones.2.corners"),
        ({"kind": "band", "name": "a", "from_m": "x", "to_m": 2}, "zones.2.from_m"),
        ({"kind": "band", "name": "a", "from_m": 0.0, "to_m": 2.0, "step_m": "x"}, "zones.2.step_m"),
        ({"name": "a", "from_m": 0.0, "to_m": 2.0}, "zones.2.kind"),
    ):
        with pytest.raises(Refused) as refused:
            zone_of(says, 2)
        assert refused.value.field == field


ROOT = Zone("root", Band(0.2, 1.5), 0.01)


def asked_of(plies, zones=(ROOT,), **more):
    cover = cover_of(Stack(plies, zones=zones, **more), skin_of(SHAPES["wing"], "upper"))
    return doubts(cover, cover.regions(1.15), 1.15, "metric")


def test_what_is_asked_of_a_book_and_what_is_not():
    tape = replace(GLASS, name="tape", balanced=False)
    plain = (Ply(GLASS, 45), Ply(GLASS, 45, "root"), Ply(GLASS, 45, "root"))
    assert asked_of(plain) == ()
    steep = (replace(ROOT, step_m=0.003),)
    assert asked_of(plain, steep) == (
        "Plies 2 and 3 end 3 mm apart at the edge of “root”: at 1 in 20 each would end 6 mm short of the next.",
    )
    # A zone that is all of the part has no edge inside it.
    assert asked_of(plain, (replace(steep[0], place=Band(0.2, 5.0)),)) == ()
    odd = asked_of((Ply(GLASS, 45), Ply(tape, 30, "root")))
    assert odd == ("Where “root” lies, [45/30] is not balanced in ±θ: it twists when pulled.",)
    over = (Ply(GLASS, 45), Ply(GLASS, 45))
    assert asked_of(over, core=FOAM, core_after=1) == ()
    assert asked_of(over, core=FOAM, core_after=1, core_zone="root") == ()
    short = (Ply(GLASS, 45), Ply(GLASS, 45, "root"))
    assert asked_of(short, core=FOAM, core_after=1, core_zone="root") == (
        "Plies inside the core do not cover all of it and its edge: they usually reach 15 mm over it.",
    )


STAGED = Stack(
    (
        Ply(GLASS, 45),
        Ply(GLASS, 0, "root", 2),
        Ply(GLASS, 0, "root", 2),
        Ply(GLASS, 45),
        Ply(GLASS, 0, "root", 2),
    ),
    FOAM,
    3,
    (ROOT,),
)


def skinned(stack):
    made = tasks.skin(stack=stack)
    return replace(made, form=SHAPES["wing"])


def test_each_stage_is_laid_bagged_and_peeled_before_the_next():
    keys = [step.key for step in tasks.steps("skin", skinned(STAGED))]
    assert keys == [
        "prepare", "skin-1/layup", "skin-1/peel", "skin-1.2/layup", "skin-1.2/peel", "core/bed",
        "skin-2/layup", "skin-2/peel", "skin-2.2/layup", "skin-2.2/peel", "trim",
    ]  # fmt: skip
    # Peel ply stays on until the next layer, whichever stage that is; only what is laid last is free of it.
    stays = {s.key for s in tasks.steps("skin", skinned(STAGED)) if "stays on until" in s.caution}
    assert stays == {"skin-1/peel", "skin-1.2/peel", "skin-2/peel"}
    task, recipe = skinned(STAGED), recipe_of("skin")
    first, second = (
        [item.key for item in recipe.items(task, key)] for key in ("skin-1/layup", "skin-1.2/layup")
    )  # fmt: skip
    # On a cured skin the peel ply comes off first; plies keep their number in the whole book.
    assert "bare" not in first
    assert second[:5] == ["ready", "bare", "wet", "ply-2", "ply-3"]


def test_stages_take_the_resin_of_their_plies_and_each_bag_draws_its_own():
    staged = tasks.needs("skin", skinned(STAGED))
    at_once = tasks.needs("skin", skinned(replace(STAGED, plies=tuple(replace(p, stage=1) for p in STAGED.plies))))
    laminate = {key: need.laminate_g for key, need in staged.items()}
    assert laminate["skin-1/layup"] + laminate["skin-1.2/layup"] == pytest.approx(at_once["skin-1/layup"].laminate_g)
    more = sum(need.bleed_g for need in staged.values()) - sum(need.bleed_g for need in at_once.values())
    root = cover_of(STAGED, skin_of(SHAPES["wing"], "upper")).covered
    assert more == pytest.approx(90 * (root.outside[1] + root.inside[1]))
    # The core drinks once on each face, under the first layers inside.
    assert [key for key, need in staged.items() if need.core_g > 0] == ["core/bed", "skin-2/layup"]
    hours = {step.key: step.estimate.minutes for step in tasks.steps("skin", skinned(STAGED))}
    assert hours["skin-1.2/layup"] < hours["skin-1/layup"]


BOARD = Strips((StripAt(0, 1.0), StripAt(2.0, 1.0)))


def test_joints_are_kept_off_a_zone_that_says_so():
    cutting = Cutting(0.6, overlap_m=0.05)

    def laps(zone):
        """How many pieces there are, and where they lap over each other on the zone."""
        cover = cover_of(Stack((Ply(GLASS, 0),) * 2, zones=(zone,)), skin_of(BOARD, "upper"))
        found = pieces_of(cover, cutting)
        outlines = [[Polygon(one.outline_mm) for one in found if one.ply == n] for n in (0, 1)]
        over = union_all([a.intersection(b) for ply in outlines for a, b in combinations(ply, 2)])
        zoned = affinity.scale(cover.zones[zone.name], 1000, 1000, origin=(0, 0))
        return len(found), round(over.intersection(zoned).area)

    hinge = Zone("hinge line", Strip(0.0, 0.5, 2.0, 0.5, 0.02))
    assert laps(hinge) == (4, 40_000)
    assert laps(replace(hinge, no_joints=True)) == (4, 0)
    # So wide that no two strips leave it free, three do; where none can they are cut all the same, and it is asked.
    assert laps(Zone("box", Band(0.0, 2.0, 0.4, 0.6), no_joints=True)) == (6, 0)
    everywhere = Zone("all", Band(0.0, 2.0), no_joints=True)
    cover = cover_of(Stack((Ply(GLASS, 0),), zones=(everywhere,)), skin_of(BOARD, "upper"))
    joints = joints_of(cover)
    assert len(cut_up(cover.plies[0], 0, "1", 0, cutting, joints)) == 2
    assert joints.strayed == 1


CARBON = replace(GLASS, name="carbon", fibre_density_g_cm3=1.8)
BLOCK = Zone("hinge", Band(0.5, 0.8, 0.4, 0.6), insert="aluminium", threads=4)


def hard(plies, zones, after):
    return cover_of(Stack(plies, FOAM, after, zones), skin_of(BOARD, "upper"))


def test_a_hard_point_takes_the_place_of_the_core_and_weighs_what_it_is_made_of():
    glass = (Ply(GLASS, 45), Ply(GLASS, 45))
    cover = hard(glass, (BLOCK,), 1)
    assert cover.covered.core == pytest.approx(2.0 - 0.06)
    assert cover.covered.inserts == pytest.approx((0.06,))
    assert cover.covered.plies == pytest.approx((2.0, 2.0))
    assert zone_of(zone_says(BLOCK)) == BLOCK
    task = replace(tasks.task("skin", "resin", tasks.EPOXY, stack=cover.stack), form=BOARD, side="upper")
    recipe = recipe_of("skin")
    rows = Counter()
    for one in what_stays(task, recipe.needs(task), task.covered()):
        rows[one.name] += one.grams
    assert rows["“hinge”, aluminium with 4 threads"] == pytest.approx(0.06 * FOAM.thickness_mm * 2700)
    assert rows["foam"] == pytest.approx(1.94 * FOAM.thickness_mm * FOAM.density_kg_m3)
    assert [item.key for item in recipe.items(task, "core/bed")][4:7] == ["wet", "insert-hinge", "plug-hinge"]


@pytest.mark.parametrize(
    ("plies", "after", "asked"),
    [
        ((Ply(GLASS, 45), Ply(GLASS, 45)), 1, []),
        ((Ply(CARBON, 45), Ply(GLASS, 45)), 1, ["ply 1 is carbon and lies on it; a glass ply between"]),
        ((Ply(CARBON, 45), Ply(GLASS, 0), Ply(GLASS, 0), Ply(CARBON, 45)), 2, []),
        ((Ply(GLASS, 45, "root"), Ply(GLASS, 45)), 1, ["no ply outside covers it and 25 mm around it"]),
        ((Ply(GLASS, 45),), 1, ["no ply inside covers it"]),
    ],
)
def test_a_hard_point_is_asked_about_where_plies_leave_it_or_carbon_lies_on_metal(plies, after, asked):
    cover = hard(plies, (BLOCK, Zone("root", Band(0, 0.6))), after)
    said = [words for words in doubts(cover, (), 1.15, "metric") if words.startswith("“hinge”")]
    assert len(said) == len(asked)
    assert all(words in one for words, one in zip(asked, said, strict=True))
    # The question about the core's bare edge is not asked twice for what is let into it.
    wood = hard(plies, (replace(BLOCK, insert="wood"), Zone("root", Band(0, 0.6))), after)
    assert not any("corroding" in words for words in doubts(wood, (), 1.15, "metric"))

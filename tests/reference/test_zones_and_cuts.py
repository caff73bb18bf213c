"""Zones, pieces, layouts: against closed forms, dense triangles, a laminate library, a rectangle packer."""

import math
import random
from itertools import pairwise

import numpy as np
import pytest
import rectpack
from composipy import LaminateProperty, OrthotropicMaterial
from shapely import affinity
from shapely.geometry import Polygon

from kiteloom.core.base.problems import Refused
from kiteloom.core.laminate.cover import book_weights, cover_of
from kiteloom.core.laminate.nest import nest
from kiteloom.core.laminate.pieces import Cutting, pieces_of
from kiteloom.core.laminate.rolls import Cut, Roll
from kiteloom.core.laminate.stack import Ply, Stack, stack_figures
from kiteloom.core.laminate.zones import Band, Corner, Drawn, Strip, Zone
from kiteloom.core.shape.loft import Loft, Planform, Station, straight
from kiteloom.core.shape.section import naca4, section_from_sides
from kiteloom.core.shape.skin import skin_of
from kiteloom.core.stores.materials import Cloth, CoreSheet

TWILL = Cloth("twill", 163, 2.55, 0.55, balanced=True)
TAPE = Cloth("tape", 300, 1.8, 0.6)
FOAM = CoreSheet("foam", 8, 75, 250)
AROUND = [(0.5 - 0.5 * math.cos(a), 0.5 * math.sin(a)) for a in np.linspace(0, math.pi, 721)]
ROUND = section_from_sides("circle", AROUND, [(x, -y) for x, y in AROUND])
#: Half a cone's slice: two circles on one axis.
CONE = straight(Planform(2, 1.0, 0.5, 0.25), ROUND)
WING = Loft(
    (
        Station(0, 1.2, section=naca4("2415")),
        Station(2, 1.1, 0.05, 0.1, section=naca4("2415")),
        Station(7.2, 0.6, 0.3, 0.5, -2, section=naca4("2412")),
    )
)


def covers(form, zone, side="upper"):
    """What a ply in one zone covers [m²]."""
    stack = Stack((Ply(TWILL, 0), Ply(TWILL, 0, zone.name)), zones=(zone,))
    return cover_of(stack, skin_of(form, side)).covered.plies[1]


def triangulated(a, b, side, lead, tail, share=(0.0, 1.0), fine=300):
    """A band of one bay of a loft, by triangles between points of both its stations at equal x/c."""
    x = lead + (tail - lead) * (1 - np.cos(np.linspace(0, math.pi, fine))) / 2
    rows = []
    for station in (a, b):
        points = station.section.side(side)
        # A cambered section's upper side leads the nose by a hair before it turns aft.
        ahead = np.maximum.accumulate(points[:, 0]) + 1e-12 * np.arange(len(points))
        rows.append(station.placed(np.column_stack((x, np.interp(x, ahead, points[:, 1])))))
    t = np.linspace(*share, 60)[:, None, None]
    grid = rows[0] * (1 - t) + rows[1] * t
    p, q, r, s = grid[:-1, :-1], grid[:-1, 1:], grid[1:, 1:], grid[1:, :-1]
    halves = (np.cross(q - p, r - p), np.cross(r - p, s - p))
    return sum(np.linalg.norm(half, axis=-1).sum() for half in halves) / 2


# Source: closed form: a cone's slice has the area π (r₁ + r₂) s; half of it, and a piece of its length.
@pytest.mark.parametrize(("to_m", "r"), [(2.0, 0.25), (0.8, 0.4)])
def test_a_band_on_half_a_cone(to_m, r):
    slant = math.hypot(to_m, 0.5 - r)
    assert covers(CONE, Zone("root", Band(0, to_m))) == pytest.approx(math.pi * (0.5 + r) * slant / 2, rel=2e-4)


# Source: an own dense triangulation, point to point at equal x/c.
@pytest.mark.parametrize(("form", "lead", "tail"), [(WING, 0.0, 0.3), (WING, 0.25, 0.8), (CONE, 0.1, 0.5)])
@pytest.mark.parametrize("side", ["upper", "lower"])
def test_bands_of_the_chord_measure_as_their_triangles(form, lead, tail, side):
    stations = form.stations
    expected = sum(
        triangulated(a, b, side, lead, tail) for a, b in pairwise(stations)
    )  # fmt: skip
    zone = Zone("band", Band(0, stations[-1].at_m, lead, tail))
    assert covers(form, zone, side) == pytest.approx(expected, rel=5e-4)


def test_a_band_across_a_station_and_what_it_leaves():
    inner = triangulated(WING.stations[0], WING.stations[1], "upper", 0, 0.4, (0.5, 1))
    outer = triangulated(WING.stations[1], WING.stations[2], "upper", 0, 0.4, (0, 0.25))
    assert covers(WING, Zone("doubler", Band(1.0, 3.3, 0, 0.4))) == pytest.approx(inner + outer, rel=5e-4)
    zones = (Zone("a", Band(0, 3, 0, 0.5)), Zone("b", Band(2, 7.2)), Zone("c", Strip(0, 0.3, 7.2, 0.3, 0.08)))
    cover = cover_of(Stack((Ply(TWILL, 45), Ply(TAPE, 0, "c")), zones=zones), skin_of(WING, "upper"))
    regions = cover.regions(1.15)
    assert sum(row.area_m2 for row in regions) == pytest.approx(WING.skin_area_m2("upper"), rel=1e-5)
    assert {row.zones for row in regions} >= {(), ("a",), ("a", "b"), ("a", "b", "c"), ("b", "c")}
    assert cover.covered.plies[1] == pytest.approx(0.08 * math.hypot(7.2, 0.4 + 0.3 - 0.3 * 0.6), rel=0.01)


def test_without_zones_a_book_weighs_what_its_stack_does_per_area():
    stack = Stack((Ply(TWILL, 45), Ply(TAPE, 0), Ply(TWILL, 45)), FOAM, 2)
    found = book_weights(stack, cover_of(stack, skin_of(WING, "lower")).covered, 1.15)
    expected = stack_figures(stack, 1.15).areal_weight_g_m2 * WING.skin_area_m2("lower")
    assert found.total_g == pytest.approx(expected, rel=1e-5)


# Source: classical laminate theory in composipy: symmetric → B = 0; balanced → A16 = A26 = 0.
def test_each_region_is_flagged_as_the_laminate_library_finds_it():
    zones = (Zone("root", Band(0, 2)), Zone("nose", Band(0, 7.2, 0, 0.3)))
    plies = [(45, ""), (0, "root"), (-45, "nose"), (-45, "root"), (0, "root"), (45, "")]
    stack = Stack(tuple(Ply(TAPE, angle, zone) for angle, zone in plies), zones=zones)
    for region in cover_of(stack, skin_of(WING, "upper")).regions(1.15):
        angles = [float(plies[n][0]) for n in region.plies]
        found = LaminateProperty(angles, OrthotropicMaterial(181e3, 10.3e3, 0.28, 7.17e3, 0.25))
        assert region.symmetric == bool(np.abs(found.B).max() < 1e-6 * np.abs(found.A).max())
        assert region.balanced == bool(max(abs(found.A[0, 2]), abs(found.A[1, 2])) < 1e-6 * found.A[0, 0])


def test_a_drawn_outline_is_where_it_was_drawn_and_steps_end_inside_only():
    square = Drawn(tuple(Corner(at, share) for at, share in ((1, 0.2), (2, 0.2), (2, 0.6), (1, 0.6))))
    drawn, band = Zone("patch", square), Zone("patch", Band(1, 2, 0.2, 0.6))
    assert covers(WING, drawn) == pytest.approx(covers(WING, band), rel=1e-3)
    plies = (Ply(TWILL, 0), *(Ply(TWILL, 0, "root"),) * 3)
    cover = cover_of(Stack(plies, zones=(Zone("root", Band(0, 2), 0.05),)), skin_of(CONE, "upper"))
    # The whole cone is the zone: no edge of it lies inside the part, so no ply ends short.
    assert cover.covered.plies == pytest.approx((cover.covered.plies[0],) * 4)
    with pytest.raises(Refused, match="crosses itself"):
        covers(WING, Zone("bow", Drawn(square.corners[:1] + square.corners[2:] + square.corners[1:2])))


@pytest.mark.parametrize("angle", [0, 90, 45, -45, 30])
@pytest.mark.parametrize("form", [WING, CONE])
def test_pieces_fit_the_roll_and_add_up_to_the_skin(form, angle):
    cover = cover_of(Stack((Ply(TWILL, angle),)), skin_of(form, "upper"))
    cut = pieces_of(cover, Cutting(0.8))
    assert sum(Polygon(one.outline_mm).area for one in cut) / 1e6 == pytest.approx(form.skin_area_m2("upper"), rel=0.01)
    lapped = pieces_of(cover, Cutting(0.8, trim_m=0.03, overlap_m=0.05))
    for piece in lapped:
        turned = affinity.rotate(Polygon(piece.outline_mm), -angle, origin=(0, 0))
        assert turned.bounds[3] - turned.bounds[1] <= 800.01
    seams = [Polygon(a.outline_mm).intersection(Polygon(b.outline_mm)).area for a, b in pairwise(lapped)]
    whole = skin_of(form, "upper").whole.buffer(0.03, join_style="mitre").area * 1e6
    assert sum(Polygon(one.outline_mm).area for one in lapped) - sum(seams) == pytest.approx(whole, rel=2e-3)


def test_joints_of_plies_one_over_the_other_are_kept_apart():
    stack = Stack((Ply(TWILL, 0),) * 3)
    cut = pieces_of(cover_of(stack, skin_of(WING, "upper")), Cutting(0.9, overlap_m=0.05))
    lows = [min(y for _, y in one.outline_mm) for one in cut if one.id.endswith("a")]
    highs = [max(y for _, y in one.outline_mm) for one in cut if one.id.endswith("a")]
    assert len({round(high) for high in highs}) == 3
    assert min(abs(a - b) for n, a in enumerate(highs) for b in highs[:n]) > 40
    assert max(lows) - min(lows) < 1


def checked(pieces, roll, found):
    """A checker written apart from the packer: every copy there, congruent, on its grain, inside, apart by the gap."""
    wanted = sorted(
        (one.id, copy) for one in pieces for copy in range(1, one.quantity + 1) if one.id not in found.oversize
    )
    assert sorted((one.id, one.copy) for one in found.placements) == wanted
    turns = (0, 180, 90, 270) if roll.quarter_turns else (0, 180)
    by_id = {one.id: one for one in pieces}
    laid = []
    for one in found.placements:
        piece = by_id[one.id]
        ring = np.array(one.outline_mm)
        laid.append(Polygon(ring))
        x, y = ring.min(axis=0)
        assert x >= -0.06
        assert y >= -0.06
        assert ring[:, 1].max() <= roll.width_mm + 0.06
        assert ring[:, 0].max() <= found.length_mm + 1e-3
        off = []
        for turn in turns:
            angle = math.radians(turn - piece.angle_deg)
            flat = np.array(piece.outline_mm) @ np.array(
                [[math.cos(angle), math.sin(angle)], [-math.sin(angle), math.cos(angle)]]
            )
            off.append(np.abs((flat - flat.mean(axis=0)) - (ring - ring.mean(axis=0))).max())
        assert min(off) < 0.01
    for n, a in enumerate(laid):
        for b in laid[:n]:
            assert a.distance(b) >= roll.gap_mm - 0.12
            assert a.intersection(b).area < 1.0


def kites(count, seed, angle=True):
    r = random.Random(seed)
    found = []
    for n in range(count):
        a, b, c = r.uniform(200, 900), r.uniform(100, 400), r.uniform(0, 150)
        outline = ((0, 0), (a, c), (a - c, b), (c / 2, b * 0.8 + 20))
        found.append(Cut(str(n), outline, r.choice([0, 45, 90]) if angle else 0, r.choice([1, 1, 2])))
    return found


@pytest.mark.parametrize(("gap", "quarter"), [(0, False), (12, False), (8, True)])
def test_a_layout_holds_what_it_must(gap, quarter):
    pieces = [*kites(14, 4), Cut("wide", ((0, 0), (2000, 0), (2000, 1500), (0, 1500)), 0)]
    roll = Roll(1000, gap, quarter)
    quick, better = (nest(pieces, roll, seconds) for seconds in (0, 2))
    assert better.oversize == ("wide",)
    assert better.length_mm <= quick.length_mm
    for found in (quick, better):
        checked(pieces, roll, found)
        area = sum(Polygon(one.outline_mm).area * one.quantity for one in pieces if one.id != "wide")
        assert found.utilisation_pct == pytest.approx(100 * area / (1000 * found.length_mm))


# Source: rectpack, the shortest of its ways on the same rectangles.
@pytest.mark.parametrize("seed", [1, 2])
def test_rectangles_take_no_more_roll_than_a_rectangle_packer_makes_of_them(seed):
    r = random.Random(seed)
    sizes = [(r.randint(100, 900), r.randint(80, 600)) for _ in range(30)]
    pieces = [Cut(str(n), ((0, 0), (a, 0), (a, b), (0, b)), 0) for n, (a, b) in enumerate(sizes)]
    lengths = []
    for way in (
        rectpack.MaxRectsBl,
        rectpack.MaxRectsBssf,
        rectpack.MaxRectsBaf,
        rectpack.SkylineBl,
        rectpack.GuillotineBssfSas,
    ):
        packer = rectpack.newPacker(pack_algo=way, rotation=False)
        for n, (a, b) in enumerate(sizes):
            packer.add_rect(b, a, n)
        packer.add_bin(1000, 10**6)
        packer.pack()
        lengths.append(max(y + h for _, _, y, _, h, _ in packer.rect_list()))
    found = nest(pieces, Roll(1000), 3)
    checked(pieces, Roll(1000), found)
    assert found.length_mm <= min(lengths) + 1e-6
    # What fits exactly is laid side by side.
    tiles = [Cut("tile", ((0, 0), (500, 0), (500, 500), (0, 500)), 0, 8)]
    assert nest(tiles, Roll(1000), 1).length_mm == pytest.approx(2000)

"""A figure's value is what its equation makes of the inputs it shows."""

import math

import pytest

from kiteloom.core.air.profile import Profile
from kiteloom.core.base.quantities import FORMATS, show
from kiteloom.core.cure.figures import stage_figure
from kiteloom.core.cure.progress import cure_times
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.laminate.figures import ply_weights, stack_weights
from kiteloom.core.laminate.stack import Ply, Stack, ply_figures, stack_figures
from kiteloom.core.mix.figures import pour_figures
from kiteloom.core.mix.ratio import MixSystem, Ratio, masses
from kiteloom.core.need.figures import resin_figures
from kiteloom.core.need.resin import Losses, resin_need
from kiteloom.core.shape.figures import shape_figures
from kiteloom.core.shape.loft import Loft, Station
from kiteloom.core.shape.section import naca4
from kiteloom.core.stores.materials import Cloth, CoreSheet

WING = Loft((Station(0, 1.12, 0, section=naca4("4415")), Station(7.2, 0.62, 0.12, section=naca4("4412"))))
GLASS, LIGHT = Cloth("heavy", 280, 2.56, 0.58, balanced=True), Cloth("light", 163, 2.56, 0.58)
STACK = Stack((Ply(LIGHT, 45), Ply(GLASS, 0), Ply(GLASS, 45)), CoreSheet("foam", 8, 75, 120), 2)
AREA = WING.skin_area_m2("upper")


def all_figures():
    stack = stack_figures(STACK, 1.15)
    yield from shape_figures(WING, "upper")
    yield from shape_figures(WING, "lower")
    yield from stack_weights(STACK, stack, AREA, 1.15)
    yield from ply_weights(STACK.plies[0], stack.plies[0], AREA)
    need = resin_need(AREA * 320, AREA * 120, Losses(), AREA)
    yield from resin_figures("skin", need, Losses(), frozenset({"cup_pct"}), 500)
    system = MixSystem(Ratio(2, 1, "volume"), 1.14, 0.96, 3)
    yield from pour_figures(system, masses(system, total_g=300), ("A", "B"))
    cure = CureSystem(55, 23, (Stage("gel", 4),), min_c=12)
    gel = cure_times(cure, 0, Profile.steady(18)).stages[0]
    yield stage_figure(cure, gel, 18, 0, "recorded", assumed=False)


@pytest.mark.parametrize("figure", list(all_figures()), ids=lambda figure: figure.key)
@pytest.mark.parametrize("system", ["metric", "us"])
def test_every_figure_can_be_shown_with_its_equation_and_inputs(figure, system):
    assert figure.kind in FORMATS
    assert show(figure.value, figure.kind, system)
    assert figure.equation
    assert figure.given or figure.source
    for given in figure.given:
        assert isinstance(given.value, str) or show(given.value, given.kind, system)
    assert figure.assumed == any(given.assumed for given in figure.given)


def inputs(figures, key):
    figure = next(figure for figure in figures if figure.key == key)
    return figure.value, {given.name: given.value for given in figure.given}


def test_planform_and_edges_follow_from_the_inputs_shown():
    figures = shape_figures(WING, "upper")
    area, given = inputs(figures, "planform_area")
    assert area == pytest.approx(given["span"] * (given["root chord"] + given["tip chord"]) / 2)
    edge, given = inputs(figures, "trailing_edge")
    behind = given["sweep of the leading edge"] + given["tip chord"] - given["root chord"]
    assert edge == pytest.approx(math.hypot(given["span"], behind))
    assert figures[1].key == "upper_area"  # a skin's own side comes first
    assert shape_figures(WING, "lower")[1].key == "lower_area"


def test_weights_follow_from_the_inputs_shown():
    figures = stack_weights(STACK, stack_figures(STACK, 1.15), AREA, 1.15)
    fibre, given = inputs(figures, "fibre_per_m2")
    assert fibre == pytest.approx(sum(given.values()))
    resin, given = inputs(figures, "resin_per_m2")
    per_side = given.pop("resin the core takes up, per side")
    assert resin == pytest.approx(sum(given.values()) + 2 * per_side)
    core, given = inputs(figures, "core_per_m2")
    assert core == pytest.approx(given["core thickness"] * given["core density"])
    total, _ = inputs(figures, "total_per_m2")
    assert total == pytest.approx(fibre + resin + core)
    mass, given = inputs(figures, "total_mass")
    assert mass == pytest.approx(given["total per area"] * given["skin area"])


def test_a_stack_without_a_core_shows_none():
    bare = Stack((Ply(GLASS, 0),))
    keys = {figure.key for figure in stack_weights(bare, stack_figures(bare, 1.15), AREA, 1.15)}
    assert keys == {"thickness", *(f"{k}_{w}" for k in ("fibre", "resin", "total") for w in ("per_m2", "mass"))}


def test_a_plys_resin_follows_from_its_cloth():
    one = ply_figures(GLASS, 1.15)
    resin, given = inputs(ply_weights(STACK.plies[1], one, AREA), "resin_mass")
    assert resin == pytest.approx(given["cloth"] * (100 / given["fibre share by weight"] - 1) * given["skin area"])


def test_resin_to_mix_follows_from_the_losses_shown_and_marks_only_what_was_assumed():
    need = resin_need(AREA * 320, AREA * 120, Losses(), AREA)
    figures = resin_figures("skin", need, Losses(), frozenset({"trim_pct"}), 500)
    total, given = inputs(figures, "skin:need")
    assert total == pytest.approx(sum(given.values()))
    left, _ = inputs(figures, "skin:left")
    assert left == pytest.approx(total - 500)
    assert [item.name for item in figures[0].given if item.assumed] == ["cut off wet, 8 %"]
    nothing_left = resin_figures("skin", need, Losses(), frozenset(), 99_999)
    assert nothing_left[2].value == 0
    assert not any(figure.assumed for figure in nothing_left)


def test_the_two_masses_follow_from_the_cup_and_the_ratio():
    system = MixSystem(Ratio(2, 1, "volume"), 1.14, 0.96)
    figures = pour_figures(system, masses(system, total_g=300), ("A", "B"))
    resin, given = inputs(figures, "pour_resin")
    hardener, _ = inputs(figures, "pour_hardener")
    k = given["hardener per 100 of resin, by weight"] / 100
    assert (resin, hardener) == pytest.approx((given["cup"] / (1 + k), k * given["cup"] / (1 + k)))
    assert k == pytest.approx(0.5 * given["hardener density"] / given["resin density"])

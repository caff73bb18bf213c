"""What recipes work on, for the tests: products that cure so, shapes of so many square metres."""

from __future__ import annotations

from dataclasses import MISSING, dataclass, replace

from kiteloom.core.base.fields import asked_of, made
from kiteloom.core.build.recipe import build
from kiteloom.core.build.recipes import recipe_of
from kiteloom.core.build.task import Task
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.laminate.stack import Ply, Stack
from kiteloom.core.mix.ratio import MixSystem, Ratio
from kiteloom.core.need.resin import Losses
from kiteloom.core.shape.flat import Piece, Pieces
from kiteloom.core.shape.loft import Planform, Ribs, straight
from kiteloom.core.shape.section import naca4
from kiteloom.core.stores.materials import Cloth, CoreSheet, CoverCloth, EdgeTape, ResinSheet, Solvent, WoodSheet

GLASS = Cloth("twill", 280, 2.56, 0.58, balanced=True)
FOAM = CoreSheet("foam", 8, 75, 120)
EPOXY = CureSystem(55, 23, (Stage("gel", 4), Stage("peel", 10), Stage("sand", 18)), min_c=12)
SANDWICH = Stack((Ply(GLASS, 45), Ply(GLASS, 0), Ply(GLASS, 45)), FOAM, 2)
HAZARDS = ("Hardener sensitises skin",)


@dataclass(frozen=True)
class Sized:
    """A shape of which only the areas of its two sides and its span matter."""

    upper: float
    lower: float
    span_m: float = 1.0
    kind = "loft"

    def skin_area_m2(self, side):
        return getattr(self, side)

    def around_m(self, _):
        return 6.0


def product(cure, density=1.15, **more):
    mix = MixSystem(Ratio(100, 28))
    return ResinSheet(
        "Tarn", "A", "B", "amine epoxy", mix, cure, density, **{"pot_life": None, "hazards": HAZARDS, **more}
    )


def task(key, role, cure, given=None, area=(1.0, 1.0), span=1.0, stack=None, side="upper", density=1.15, **more):
    """A task of a recipe, by its key."""
    recipe = recipe_of(key)
    panel = Sized(*area, span)
    sheet = more.pop("sheet", None) or product(cure, density)
    losses = more.pop("losses", Losses())
    return Task(made(recipe.given, given or {}), {role: sheet}, losses, panel, side, "left", stack)


def steps(key, task):
    return recipe_of(key).steps(task)


def needs(key, task):
    return {need.step: need.takes for need in recipe_of(key).needs(task)}


def cant(key, asked, given=None):
    """Why a job of a recipe can't be made; ``""`` when it can."""
    says = {**vars(asked.given), **(given or {})}
    return "; ".join(build(recipe_of(key), says, lambda found: replace(asked, given=found)).cant)


def example(recipe):
    """A task of any recipe, by what it asks for alone: one that is added needs nothing here."""
    given = {}
    for name, (asked, default) in asked_of(recipe.given).items():
        if default in (MISSING, None):
            low, high = asked.low or 0, min(asked.high or 4, 4)
            given[name] = asked.choices[0] if asked.choices else asked.within(name, type(low)(low + (high - low) // 2))
    products, materials = {}, {}
    for role in recipe.roles:
        if role.kinds[0] in MATERIALS:
            materials[role.key] = MATERIALS[role.kinds[0]]
            continue
        stages = tuple(Stage(any_of[0], 8 + 4 * n) for n, any_of in enumerate(role.stages))
        products[role.key] = product(replace(EPOXY, stages=(*stages, Stage("gel", 3))), max_rh_pct=77.0, max_c=33.0)
    shape = LIKE if recipe.sawn is not None or recipe.pieces is not None else Sized(2, 2, 2)
    return Task(made(recipe.given, given), products, Losses(), shape, "upper", "left", SANDWICH, materials=materials)


#: Like pieces, longer than a length of stock.
LIKE = Pieces((Piece("cap", 4, 3.0, 0.02, 0.012),))
#: What covers, of either school; what rinses; what is cut.
MATERIALS = {
    "cover cloth": CoverCloth("Linden", 92, 1.8, "", 140, 155, 200),
    "tape": EdgeTape("edge tape", 40, 90, 120, 140),
    "solvent": Solvent("Acre", ("Burns",), 0.79),
    "sheet": WoodSheet("birch", 1.5, 680, 1.2, 1.2),
}


def clothed(key, given=None, **more):
    """A frame of four ribs to be covered, of 4 m by 1 m, both sides."""
    recipe = recipe_of(key)
    ribs = Ribs((0.0, 1.0, 2.5, 4.0), 0.012)
    plank = replace(straight(Planform(4.0, 1.0, 1.0), naca4("0012")), ribs=ribs)
    found = replace(example(recipe), given=made(recipe.given, given or {}), form=plank, side="whole")
    glue = {role: replace(product, spread_m2_l=5.0, parts=None) for role, product in found.products.items()}
    return replace(found, products=glue, **more)


def skin(area=6.5, stack=SANDWICH, cure=EPOXY, **more):
    return task("skin", "resin", cure, area=(area, area), stack=stack, **more)

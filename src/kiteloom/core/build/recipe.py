"""How a way of building declares itself: what it is given, the products it asks for, and what it makes of them."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from kiteloom.core.base.fields import Says, asked_of, made, missing
from kiteloom.core.base.problems import Refused
from kiteloom.core.build.leak import LeakTest
from kiteloom.core.build.step import Step
from kiteloom.core.build.task import Again, FlatCover, Item, JointSteps, Need, Role, Sawn, Task
from kiteloom.core.laminate.cover import Cover, Covered
from kiteloom.core.laminate.pieces import Piece
from kiteloom.core.laminate.scoring import Scoring
from kiteloom.core.need.coats import Coating
from kiteloom.core.need.resin import Losses
from kiteloom.core.need.supplies import Supply, at_hand
from kiteloom.core.shape.flat import KINDS, Kind, Shape
from kiteloom.core.shape.section import Side
from kiteloom.core.stores.materials import Material, ResinSheet
from kiteloom.core.weight.part import Stays


def nothing(_: Task[Any]) -> tuple[Need, ...]:
    """A recipe that does not say how much it takes."""
    return ()


def none_used(_: Task[Any]) -> tuple[Supply, ...]:
    """A recipe that uses up only what hands get through."""
    return ()


def no_wood(_: Task[Any]) -> tuple[Stays, ...]:
    """A recipe that puts on nothing besides its mixes, its cloth and its core."""
    return ()


def no_items(_: Task[Any], __: str) -> tuple[Item, ...]:
    """A recipe that calls nothing out."""
    return ()


def its_side(task: Task[Any]) -> Covered:
    """What a ply book covers of the side that is built."""
    return task.covered()


def no_asks(_: Task[Any]) -> tuple[str, ...]:
    """A recipe that has nothing to ask about what it is given."""
    return ()


#: How a core is scored on each side it is bedded on.
Scores = tuple[tuple[Side, Scoring], ...]


def not_scored(_: Task[Any]) -> Scores:
    """A recipe that bends no core."""
    return ()


#: A ply book as it lies on each side it is laid on.
Lies = tuple[tuple[Side, Cover], ...]


def on_its_side(task: Task[Any]) -> Lies:
    """A ply book as it lies on the side that is built; on both for the whole.

    >>> from kiteloom.core.build.recipes import recipe_of
    >>> [side for side, _ in on_its_side(replace(example(recipe_of("skin")), side="whole", form=PLANK))]
    ['upper', 'lower']
    """
    return task.lies(("upper", "lower") if task.side == "whole" else (task.side,))


@dataclass(frozen=True)
class Recipe:
    """A way of building, whole: its form, limits, products, steps, amounts and run sheets follow from this value.

    Parameters
    ----------
    key : str
        Kept in the file; never changes. ``name`` and ``about`` are only shown.
    given : type
        A frozen dataclass whose fields say what they ask.
    steps, needs, items, supplies : functions of a task
        Its steps in order under stable keys; what they take; the run sheet of a step; what they use up besides their
        mixes, without what hands get through.
    stations : tuple of str
        The kinds of place and device its steps ask for.
    shapes : tuple of str
        The kinds of shape it can be built on; none where it does not ask for its part's shape.
    laid_up, by_hand, staged : bool
        Whether it needs a ply book; whether that is laid by hand, without a bag; whether a side of it may be laid up
        in several stages.
    covers, lies : functions of a task
        What its ply book covers; how it lies on each side, laid flat, to be cut.
    wood : function of a task
        What stays on the part besides its mixes, cloth and core.
    scores : function of a task
        How its core is scored to follow each side it is bedded on.
    joint : JointSteps or None
        Its steps that make faces ready and bring them together, where it ties two parts.
    asks : function of a task
        What of it is odd: questioned, not forbidden, in sentences.
    pieces : function of a task and a roll's width [m], or None
        What is cut for it that no ply book says, from the product of the role ``cut_from``, with its grain along x; the
        width is that of a roll it is cut from instead, None for its own.
    together : function of a task, or None
        The name of the round it is coated in with other parts, ``""`` for none, and its coats in order.
    coats : function of a task, or None
        What its coats are reckoned by, where ways of putting them on are compared.
    again : Again or None
        What does some of it again, at one tap.
    cloth : function of a task, or None
        How cloth that covers lies on it, laid flat.
    sawn : function of a task, or None
        What is sawn for it out of stock lengths.
    tries : function of what it is given, or None
        How it is tried with air, where it is a tank.
    before_closing : tuple of str
        What it wants done before its part, or what that is built from, is closed.
    """

    key: str
    name: str
    about: str
    given: type
    roles: tuple[Role, ...]
    steps: Callable[[Task[Any]], tuple[Step, ...]]
    needs: Callable[[Task[Any]], tuple[Need, ...]] = nothing
    items: Callable[[Task[Any], str], tuple[Item, ...]] = no_items
    supplies: Callable[[Task[Any]], tuple[Supply, ...]] = none_used
    stations: tuple[str, ...] = ()
    shapes: tuple[Kind, ...] = ()
    laid_up: bool = False
    by_hand: bool = False
    staged: bool = False
    covers: Callable[[Task[Any]], Covered] = its_side
    lies: Callable[[Task[Any]], Lies] = on_its_side
    scores: Callable[[Task[Any]], Scores] = not_scored
    wood: Callable[[Task[Any]], tuple[Stays, ...]] = no_wood
    joint: JointSteps | None = None
    before_closing: tuple[str, ...] = ()
    asks: Callable[[Task[Any]], tuple[str, ...]] = no_asks
    tries: Callable[[Any], LeakTest] | None = None
    pieces: Callable[[Task[Any], float | None], tuple[Piece, ...]] | None = None
    cut_from: str = ""
    again: Again | None = None
    together: Callable[[Task[Any]], tuple[str, tuple[str, ...]]] | None = None
    coats: Callable[[Task[Any]], Coating] | None = None
    cloth: Callable[[Task[Any]], FlatCover] | None = None
    sawn: Callable[[Task[Any]], tuple[Sawn, ...]] | None = None

    @property
    def losses(self) -> tuple[str, ...]:
        """The names of the losses its amounts count.

        >>> from kiteloom.core.build.recipes import recipe_of
        >>> recipe_of("skin").losses
        ('trim_pct', 'bleed_g_m2', 'cup_pct', 'sheet_pct', 'bag_pct')
        """
        if self.needs is nothing:
            return ()
        counted = tuple(asked_of(Losses)) if self.laid_up else ("cup_pct",)
        under_a_bag = ("bleed_g_m2", "bag_pct")
        return tuple(name for name in counted if name not in under_a_bag) if self.by_hand else counted


@dataclass(frozen=True)
class Built:
    """What a recipe made of a task; where it can't be made ``cant`` says why, and its one step can't be placed.

    ``covered`` is what its ply book covers; None where nothing is laid up. ``task`` is what it was made of.
    """

    steps: tuple[Step, ...]
    needs: tuple[Need, ...]
    items: Mapping[str, tuple[Item, ...]]
    cant: tuple[str, ...] = ()
    covered: Covered | None = None
    supplies: tuple[Supply, ...] = ()
    task: Task[Any] | None = None
    asks: tuple[str, ...] = ()


#: Shapes with a surface that cloth, filler or paint goes on, and those of like pieces too.
SURFACES: tuple[Kind, ...] = ("loft", "outline", "strips")


ANY_SHAPE: tuple[Kind, ...] = (*SURFACES, "pieces")


def fits_shape(recipe: Recipe, form: Shape | None) -> str:
    """Why a recipe can't be built on a shape; ``""`` where it can.

    >>> from kiteloom.core.build.recipes import recipe_of
    >>> fits_shape(recipe_of("skin"), None), fits_shape(recipe_of("cap"), None)
    ('the part has no shape yet; give it one first', '')
    """
    if not recipe.shapes or (form is not None and form.kind in recipe.shapes):
        return ""
    if form is None:
        return "the part has no shape yet; give it one first"
    wanted = " or ".join(KINDS[kind] for kind in recipe.shapes)
    return f"its shape is {KINDS[form.kind]}; {wanted} is wanted"  # type: ignore[index]  # each class has its kind


def build(recipe: Recipe, given: Says, task: Callable[[Any], Task[Any]]) -> Built:
    """What a recipe makes; what can't be made is a value, not an exception.

    Parameters
    ----------
    given : mapping
        What the job was given, as it is kept.
    task : function
        Makes the task of what is given; it may refuse.

    >>> from kiteloom.core.build.recipes import recipe_of
    >>> made = build(recipe_of("prime"), {"coats": 9}, lambda given: example(recipe_of("prime")))
    >>> made.cant
    ("Coats is 9; it can't be above 2",)
    """
    reasons: list[str] = []
    found: Task[Any] | None = None
    lacks = missing(recipe.given, given)
    if lacks:
        reasons.append(f"not given yet: {', '.join(lacks)}")
    else:
        try:
            found = task(made(recipe.given, given))
        except Refused as refused:
            reasons.append(refused.sentence)
    if found is not None:
        unfit = fits_shape(recipe, found.form)
        reasons += [*([unfit] if unfit else []), *lacking(recipe, found.products, found.materials)]
        if not reasons:
            try:
                steps = recipe.steps(found)
                items = {step.key: recipe.items(found, step.key) for step in steps if step.called_out}
                covered = recipe.covers(found) if recipe.laid_up else None
                needs = recipe.needs(found)
                supplies = (*recipe.supplies(found), *_hands(steps, needs))
                return Built(steps, needs, items, (), covered, supplies, found, recipe.asks(found))
            except Refused as refused:
                reasons.append(refused.sentence)
    return Built((cant_step(recipe.name, reasons),), (), {}, tuple(reasons))


def _hands(steps: tuple[Step, ...], needs: tuple[Need, ...]) -> Iterator[Supply]:
    """What hands get through in every step with something wet."""
    mixed = {need.step: need.takes.total_g for need in needs}
    for step in steps:
        if step.cure is not None:
            yield from at_hand(step.key, step.people, mixed.get(step.key, 0.0))


def lacking(
    recipe: Recipe, products: Mapping[str, ResinSheet], materials: Mapping[str, Material] | None = None
) -> list[str]:
    """What products of a recipe are missing, and stages their sheets do not give, each in a sentence.

    >>> from kiteloom.core.build.recipes import recipe_of
    >>> lacking(recipe_of("prime"), {})
    ['choose a primer first']
    """
    reasons = []
    for role in recipe.roles:
        if role.key in (materials or {}):
            continue
        product = products.get(role.key)
        if product is None and role.optional:
            continue
        if product is None:
            article = "an" if role.label[0].lower() in "aeiou" else "a"
            reasons.append(f"choose {article} {role.label.lower()} first")
            continue
        if product.cure is None:
            reasons.append(f"the sheet of {product.name} gives no stages; when it is hard can't be computed")
            continue
        for any_of in role.stages:
            if not any(product.cure.has(stage) for stage in any_of):
                names = " or ".join(f"“{stage}”" for stage in any_of)
                reasons.append(f"{product.name} has no stage {names} on its sheet")
    return reasons


#: The key of the one step a job has that can't be made.
CANT = "can't be made"


def cant_step(name: str, reasons: list[str] | tuple[str, ...]) -> Step:
    """The one step of a job that can't be made; it can't be placed, and says why.

    >>> cant_step("Cover", ["choose a cement first"]).refused
    'choose a cement first'
    """
    return Step(CANT, name[:1].upper() + name[1:], 5, 0, refused="; ".join(reasons))

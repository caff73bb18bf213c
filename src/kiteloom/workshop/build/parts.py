"""Every part as its recipe sees it: the steps of building it, with what this shop changed of them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property
from typing import Any

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed
from kiteloom.core.build.gates import before_gates
from kiteloom.core.build.recipes import fill_fair, foam_core, paste_bond, sandwich_skin, spar_cap, varnish, wood_frame
from kiteloom.core.build.step import USE_BY, After, Step
from kiteloom.core.cure.progress import CureSystem, Stage
from kiteloom.core.need.resin import ResinNeed
from kiteloom.core.shape.loft import Panel
from kiteloom.core.stores.materials import ResinSheet
from kiteloom.store.models import DataSheet, Design, Part, Shape
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.build.skins import skin
from kiteloom.workshop.laminate.plies import stack_of
from kiteloom.workshop.need.losses import losses_of
from kiteloom.workshop.shape.shapes import panel_of
from kiteloom.workshop.stores.sheets import resin_of

SKIN = sandwich_skin.NAME


OWN = "own/"


@dataclass(frozen=True)
class BuiltPart:
    """A part and its steps; ``steps`` carry keys of their own, not yet the part's."""

    id: str
    name: str
    rank: int
    hand: str
    assembly: str
    design_id: str
    recipe: str
    sheet_id: str
    product: str
    steps: tuple[Step, ...]
    needs: dict[str, ResinNeed]
    recipe_steps: tuple[Step, ...]
    thing: str = ""
    """What it is turned with; ``""`` when it is turned by itself, or not at all."""
    after: tuple[tuple[str, str], ...] = ()
    """Parts that must be built before a step of this one, and that step's key."""

    @cached_property
    def in_shop(self) -> tuple[Step, ...]:
        """Its steps among those of all parts."""
        return tuple(replace(step, thing=self.thing).of_part(self.id) for step in self.steps)

    @property
    def ends(self) -> tuple[str, ...]:
        """The keys, among those of all parts, of the steps that nothing of its own follows."""
        before = {link.step for step in self.steps for link in step.after}
        return tuple(f"{self.id}:{step.key}" for step in self.steps if step.key not in before)


def ribs_of(panel: Panel, parameters: dict[str, Any]) -> int:
    """How many ribs a pitch asks for over a panel, both ends included."""
    pitch = between("rib_pitch_m", parameters["rib_pitch_m"], 0.02, 5, unit="m", name="the rib pitch")
    return int(panel.planform.span_m / pitch + 1e-9) + 1


def recipe_steps(uow: UnitOfWork, part: Part) -> tuple[tuple[Step, ...], dict[str, ResinNeed]]:
    """What the recipe makes of a part, before this shop's own changes."""
    design = part.design
    if design.recipe == SKIN:
        job = skin(uow, part.id).job
        return sandwich_skin.steps(job), sandwich_skin.resin_needs(job)
    panel, sheet, given = panel_of(design.shape), resin_of(design.resin_sheet), design.parameters
    cure, losses = sheet.curing, losses_of(design)
    if design.recipe == wood_frame.NAME:
        ribs = ribs_of(panel, given)
        more = {name: int(given.get(name, 0)) for name in ("stringers", "blocks")}
        return wood_frame.steps(wood_frame.FrameJob(ribs, int(given["gussets_per_rib"]) * ribs, cure, **more)), {}
    if design.recipe == varnish.NAME:
        ribs = ribs_of(panel, given)
        induction = sheet.induction_min or varnish.INDUCTION_MIN
        coats = varnish.CoatJob(ribs, ribs * float(given["rib_area_m2"]), cure, induction, life_of(sheet))
        return varnish.steps(coats), {}
    if design.recipe == foam_core.NAME:
        stack = stack_of(uow, design.ply_book)
        uptake = stack.core.resin_uptake_g_m2_per_side if stack.core else 0.0
        areas = (panel.skin_area_m2("upper"), panel.skin_area_m2("lower"))
        foam = foam_core.FoamJob(*areas, stack.plies, uptake, cure, sheet.cured_density_g_ml, losses)
        return foam_core.steps(foam), foam_core.resin_needs(foam)
    if design.recipe == spar_cap.NAME:
        size = (float(given["cap_length_m"]), float(given["cap_width_m"]))
        cap = spar_cap.CapJob(*size, stack_of(uow, design.ply_book).plies, cure, sheet.cured_density_g_ml, losses)
        return spar_cap.steps(cap), spar_cap.resin_needs(cap)
    if design.recipe == paste_bond.NAME:
        length, width, thick = (float(given[name]) for name in ("bond_length_m", "bond_width_m", "bond_thickness_mm"))
        bond = paste_bond.BondJob(
            length, width, thick, str(given["one"]), str(given["other"]), cure, sheet.cured_density_g_ml, losses,
            bool(given.get("closes")),
        )  # fmt: skip
        return paste_bond.steps(bond), paste_bond.paste_needs(bond)
    if design.recipe == fill_fair.NAME:
        side = design.side if design.side in ("upper", "lower") else ""
        area = panel.skin_area_m2(side) if side else panel.skin_area_m2("upper") + panel.skin_area_m2("lower")  # type: ignore[arg-type]
        fair = fill_fair.FairJob(area, int(given["fills"]), bool(given.get("on_foam")), cure, losses)
        return fill_fair.steps(fair), fill_fair.filler_needs(fair)
    raise Refused("recipe", f"“{design.recipe}” is not a way of building; they are {', '.join(RECIPES)}")


RECIPES = tuple(made.NAME for made in (sandwich_skin, foam_core, spar_cap, wood_frame, paste_bond, varnish, fill_fair))


def life_of(sheet: ResinSheet) -> CureSystem | None:
    """How long a mix can be used, by its sheet's pot life, faster when warm; None where it says nothing."""
    if sheet.pot_life is None:
        return None
    stage = Stage(USE_BY, sheet.pot_life.minutes / 60)
    return replace(sheet.curing, reference_c=sheet.pot_life.temp_c, stages=(stage,), min_c=None, table=())


def built_part(uow: UnitOfWork, part_id: str) -> BuiltPart:
    """One part with its steps."""
    part = uow.get(Part, part_id)
    design = part.design
    made, needs = recipe_steps(uow, part)
    return BuiltPart(
        part.id,
        part.name,
        part.rank,
        part.hand,
        part.assembly.name,
        design.id,
        design.recipe,
        design.resin_sheet_id,
        design.resin_sheet.name,
        _with_edits(made, design.step_edits),
        needs,
        made,
        part.thing,
        tuple((row["part_id"], row["step"]) for row in part.after),
    )


#: What happens in the shop and changes nothing of what is built, or how.
WORK_TOPICS = ("work", "tick", "batch", "witness", "alert", "crew", "climate", "plan")


def built_parts(uow: UnitOfWork) -> list[BuiltPart]:
    """Every part, in order; made anew only when something other than work has changed."""

    def made() -> list[BuiltPart]:
        # All at once, not one by one as each part asks for its own.
        held = [uow.all(row) for row in (Design, Shape, DataSheet)]
        found = [built_part(uow, part.id) for part in uow.all(Part, Part.rank, Part.name)]
        del held
        return found

    return uow.built.made(uow.last_change(WORK_TOPICS), "parts", made)


def steps_in_shop(found: Iterable[BuiltPart]) -> tuple[Step, ...]:
    """Every part's steps, linked where one is built into another, each gate after what needs access."""
    by_id = {part.id: part for part in found}
    steps: list[Step] = []
    for part in by_id.values():
        more: dict[str, list[After]] = defaultdict(list)
        for other, key in part.after:
            if other in by_id:
                more[f"{part.id}:{key}"] += [After(end) for end in by_id[other].ends]
        steps += [replace(s, after=(*s.after, *more[s.key])) if s.key in more else s for s in part.in_shop]
    return before_gates(steps)


def _with_edits(made: tuple[Step, ...], edits: dict[str, Any]) -> tuple[Step, ...]:
    """A shop's own minutes, and steps of its own: each after the step it names, before what followed that."""
    minutes: dict[str, float] = edits.get("minutes", {})
    steps = [replace(step, minutes=minutes[step.key], estimate=None) if step.key in minutes else step for step in made]
    for row in edits.get("own", ()):
        at = next((i for i, step in enumerate(steps) if step.key == row["after"]), None)
        if at is None:
            continue  # what it followed is no longer built so; its facts stay
        before = steps[at]
        own = Step(
            row["key"],
            row["name"],
            minutes.get(row["key"], row["minutes"]),
            row["people"],
            (After(before.key),),
            may_pause=True,
            wait_min=row["wait_min"],
            own=True,
            access=bool(row.get("access")),
            way=before.way,
            skills=tuple(row.get("skills", ())),
        )
        followers = {
            step.key: replace(step, after=tuple(After(own.key) if a == After(before.key) else a for a in step.after))
            for step in steps
            if any(link == After(before.key) for link in step.after)
        }
        steps = [followers.get(step.key, step) for step in steps]
        steps.insert(at + 1, own)
    return tuple(steps)


@dataclass(frozen=True)
class OwnStep:
    """A step of the shop's own, as typed."""

    name: str
    after: str
    minutes: Typed
    people: int
    wait: Typed
    access: bool = False
    skills: tuple[str, ...] = ()


def edit_minutes(uow: UnitOfWork, part_id: str, version: int, key: str, typed: Typed | None, now: datetime) -> Saved:
    """Say how long a step takes here; None goes back to what is assumed."""
    part = uow.get(Part, part_id)
    design = uow.get_for_edit(Design, part.design_id, version)
    step = _step(built_part(uow, part_id), key)
    minutes = dict(design.step_edits.get("minutes", {}))
    if typed is None:
        minutes.pop(key, None)
        words = f"{step.name}: minutes as assumed again"
    else:
        new = between("minutes", typed.read("time", "minutes"), 1, 10_000, unit="min", name=step.name)
        minutes[key] = new
        words = f"{step.name} {step.minutes:.0f} min → {new:.0f} min"
    design.step_edits = {**design.step_edits, "minutes": minutes}
    uow.edited(design, [words], now, "design")
    return Saved(design.version)


def add_step(uow: UnitOfWork, part_id: str, version: int, key: str, own: OwnStep, now: datetime) -> Saved:
    """Add a step of the shop's own after another; the same key again adds nothing."""
    part = uow.get(Part, part_id)
    rows = list(part.design.step_edits.get("own", ()))
    if any(row["key"] == OWN + key for row in rows):
        return Saved(part.design.version)
    design = uow.get_for_edit(Design, part.design_id, version)
    if not own.name.strip():
        raise Refused("name", "the step has no name; give it one, like “Drill the drain”")
    before = _step(built_part(uow, part_id), own.after)
    rows.append(
        {
            "key": OWN + key,
            "name": own.name.strip()[:120],
            "after": before.key,
            "minutes": between("minutes", own.minutes.read("time", "minutes"), 1, 10_000, unit="min"),
            "people": int(between("people", own.people, 0, 20)),
            "wait_min": between("wait", own.wait.read("time", "wait"), 0, 100_000, unit="min", name="the wait"),
            "access": own.access,
            "skills": _skills(own),
        }
    )
    design.step_edits = {**design.step_edits, "own": rows}
    uow.edited(design, [f"step “{own.name.strip()}” added after “{before.name}”"], now, "design")
    return Saved(design.version)


def _skills(own: OwnStep) -> list[str]:
    found = list(dict.fromkeys(skill.strip().lower() for skill in own.skills if skill.strip()))
    if found and not own.people:
        raise Refused("people", f"“{found[0]}” is asked of nobody: the step has no people; give it one or more")
    if any(len(skill) > 40 for skill in found):
        raise Refused("skills", "a skill is longer than 40 letters; shorten it")
    return found


def drop_step(uow: UnitOfWork, part_id: str, version: int, key: str, now: datetime) -> Saved:
    """Take a step of the shop's own out again; what was noted of it stays."""
    part = uow.get(Part, part_id)
    design = uow.get_for_edit(Design, part.design_id, version)
    step = _step(built_part(uow, part_id), key)
    if not step.own:
        raise Refused("key", f"“{step.name}” belongs to the recipe; only steps of your own can be taken out")
    rows = [row for row in design.step_edits.get("own", ()) if row["key"] != key]
    rows = [{**row, "after": step.after[0].step} if row["after"] == key else row for row in rows]
    design.step_edits = {**design.step_edits, "own": rows}
    uow.edited(design, [f"step “{step.name}” taken out"], now, "design")
    return Saved(design.version)


def _step(found: BuiltPart, key: str) -> Step:
    for step in found.steps:
        if step.key == key:
            return step
    names = ", ".join(step.key for step in found.steps)
    raise Refused("step_key", f"“{key}” is not a step of this part; it has {names}")

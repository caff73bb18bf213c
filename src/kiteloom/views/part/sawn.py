"""A job's cut list: each length of stock, what is sawn from it in order, where scarfs stand, what is left over."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.build.task import Sawn
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.parts import built_part


@dataclass(frozen=True)
class SawnPiece:
    """One piece on a length: what it is, how long in words, and where it begins and ends on it [m]."""

    name: str
    length: str
    from_m: float
    to_m: float


@dataclass(frozen=True)
class BarView:
    """Like lengths sawn alike: how many, whether they are bought, and what is left of each."""

    count: int
    bought: bool
    length: str
    length_m: float
    pieces: list[SawnPiece]
    left: str


@dataclass(frozen=True)
class SawnView:
    """What is sawn out of one section."""

    section: str
    sentence: str
    bars: list[BarView]
    scarfs: list[str]


@dataclass(frozen=True)
class CutListView:
    """A job's cut lists, section by section."""

    job: str
    lists: list[SawnView]
    asks: list[str]
    caution: str


_CAUTION = (
    "Where a scarf may stand, and whether one may at all, is the designer’s: none under fittings, none beside another "
    "in the next lamination. A licensed inspector decides."
)


def cut_list_view(uow: UnitOfWork, part_id: str, key: str | None = None) -> CutListView:
    """The cut list of one of a part's jobs; `Refused` where nothing is sawn in it."""
    part, units = built_part(uow, part_id), units_of(uow)
    job = part.job_with(lambda recipe: recipe.sawn, key, "has no cut list: nothing is sawn to length in this job")
    assert job.recipe is not None
    assert job.recipe.sawn is not None
    assert job.task is not None
    lists = [_list(one, job.task.given.saw_m, units) for one in job.recipe.sawn(job.task)]
    return CutListView(job.key, lists, list(job.asks), _CAUTION)


def _list(sawn: Sawn, saw_m: float, units: UnitSystem) -> SawnView:
    found = sawn.list
    alike: dict[tuple[object, ...], int] = {}
    for bar in found.bars:
        row = (bar.length_m, bar.bought, bar.pieces, bar.left_m)
        alike[row] = alike.get(row, 0) + 1
    bars = []
    for bar in {(bar.length_m, bar.bought, bar.pieces, bar.left_m): bar for bar in found.bars}.values():
        at, pieces = 0.0, []
        for name, length in bar.pieces:
            pieces.append(SawnPiece(name, show(length, "length", units), at, at + length))
            at += length + saw_m
        count = alike[bar.length_m, bar.bought, bar.pieces, bar.left_m]
        bars.append(BarView(count, bar.bought, show(bar.length_m, "length", units), bar.length_m, pieces,
                            show(bar.left_m, "length", units) if bar.left_m > 0.005 else ""))  # fmt: skip
    shelf = sum(not bar.bought for bar in found.bars)
    there = f"{shelf} from the shelf, " if shelf else ""
    sure = "fewer can’t be" if found.proven else f"{found.least} at least are needed; no list of fewer was found"
    sentence = f"{there}{found.bought} bought: {sure}. {found.waste_pct:.0f} % is waste"
    left = f"; the longest remnant is {show(found.longest_left_m, 'length', units)}" if found.longest_left_m else ""
    scarfs = [
        f"{name}: scarf of {show(sawn.scarf_m, 'length', units)} from "
        f"{', '.join(show(one, 'length', units) for one in at)} on"
        for name, at in sawn.scarfs
    ]
    width, thick = (show(1000 * one, "step", units) for one in (sawn.width_m, sawn.thickness_m))
    return SawnView(f"{sawn.pieces}, {width} × {thick}", f"{sentence}{left}.", bars, scarfs)

"""A joint tapped with a coin, as it is shown: the grid, the last tap and the one before it, what was decided."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.build.bond_line import GlueLine
from kiteloom.core.build.coin_tap import Grid, covered, grid_of
from kiteloom.store.models import CoinTap, CrewMember, TapRuling
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.log.coin_taps import tap_rulings, taps_by_part

#: What is said of what was decided about voids.
VOIDS_RULED = {
    "accept": "Accepted as it is",
    "inject": "To be injected, then tapped again",
    "redo": "To be done again",
}


@dataclass(frozen=True)
class TapView:
    """One tap: its grid, its voids, how much holds in words, and what was decided."""

    id: str
    along: int
    across: int
    voids: list[tuple[int, int]]
    pct: float
    words: str
    holds: bool
    decided: str
    decision: str


@dataclass(frozen=True)
class TapsView:
    """The grid to tap on, in m from one end where each tap is; the taps, the last first."""

    along: int
    across: int
    every: str
    least: str
    taps: list[TapView]
    people: list[Choice]


def taps_view(uow: UnitOfWork, part_id: str) -> TapsView:
    """A joint's taps."""
    part, units = built_part(uow, part_id), units_of(uow)
    job = part.bonding
    if job is None or job.task is None or job.cant:
        raise Refused("part_id", f"{part.name} has no glue line whose size is known")
    given: GlueLine = job.task.given
    grid = grid_of(given.length_m, given.width_m)
    taps, ruled = taps_by_part(uow).get(part_id, []), tap_rulings(uow)
    return TapsView(
        grid.along,
        grid.across,
        show(1000 * given.length_m / grid.along, "step", units),
        f"{given.least_pct:g} %",
        [_tap(uow, tap, given, ruled.get(tap.id), units) for tap in reversed(taps)],
        [Choice(row.id, row.name) for row in uow.all(CrewMember, CrewMember.name) if row.hidden_at is None],
    )


def _tap(uow: UnitOfWork, tap: CoinTap, given: GlueLine, ruled: TapRuling | None, units: UnitSystem) -> TapView:
    voids = [(along, across) for along, across in tap.voids]
    found = covered(Grid(tap.along, tap.across), voids)
    holds = found.holds(given.least_pct)
    zone = zone_here(uow)
    by = f", {tap.crew_member.name}" if tap.crew_member else ""
    words = f"{when(minute_of(tap.happened_at), zone)}{by}: {found.pct:.0f} % holds"
    if found.longest:
        longest = show(1000 * given.length_m / tap.along * found.longest, "step", units)
        words += f", the longest void is about {longest} long"
    words += "." if holds else f"; at least {given.least_pct:g} % is wanted."
    said = ""
    if ruled is not None:
        at = when(minute_of(ruled.happened_at), zone)
        said = f"{VOIDS_RULED[ruled.kind]}, {ruled.crew_member.name}, {at}: {ruled.note}"
    return TapView(tap.id, tap.along, tap.across, voids, found.pct, f"{words}{f' {tap.note}' if tap.note else ''}",
                   holds, ruled.kind if ruled is not None else "", said)  # fmt: skip

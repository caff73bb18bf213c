"""The nose ribs of the Reedling's left wing: a tube, its brackets and ribs threaded on it, glued in sixteen joints.

All invented. A rib can only be slid out of the way until the tube is held by its brackets; what squeezes out of a
bracket would lock a loose rib crooked.
"""

from __future__ import annotations

from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from typing import Any

from kiteloom.core.build.recipes import paste_bond
from kiteloom.demo.week import Week
from kiteloom.demo.whole import AIRFRAME, WING, bond, pieces
from kiteloom.store.models import Delivery, Joint, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.build.founding import Founding
from kiteloom.workshop.build.joints import Tied

TUBE, SLEEVE, BUSH, STAND = "Left drag tube", "Left tube sleeve", "Left rib bush", "Left bellcrank stand"
INNER, OUTER, ARM, STRIP = "Left inner bracket", "Left outer bracket", "Left hinge arm", "Left nose strip"
RIB_1, RIB_2, RIB_3 = "Left nose rib 1", "Left nose rib 2", "Left nose rib 3"
SPAR = "Left wing, spar cap"
#: How many, and the length, width and thickness of one [m].
FITTINGS = {
    TUBE: (1, 2.4, 0.04, 0.0015),
    SLEEVE: (1, 0.12, 0.13, 0.0015),
    RIB_1: (1, 0.42, 0.15, 0.006),
    RIB_2: (1, 0.4, 0.145, 0.006),
    RIB_3: (1, 0.38, 0.14, 0.006),
    BUSH: (1, 0.02, 0.06, 0.004),
    STAND: (1, 0.14, 0.09, 0.002),
    INNER: (2, 0.11, 0.08, 0.002),
    OUTER: (2, 0.11, 0.08, 0.002),
    ARM: (1, 0.18, 0.05, 0.003),
    STRIP: (1, 2.4, 0.03, 0.012),
}
WOOD, METAL, STEEL, CARBON = "wood", "aluminium", "steel", "carbon"


@dataclass(frozen=True)
class _Row:
    """A joint: what it ties and fixes, the size of its glue line, and what it asks for."""

    name: str
    one: tuple[str, str, str]
    """What holds it: the part, where on it, of what it is."""
    other: tuple[str, str, str]
    """What it fixes."""
    length_m: float
    width_m: float
    loose: tuple[str, ...] = ()
    located: tuple[str, ...] = ()
    shuts: tuple[str, ...] = ()
    more: dict[str, Any] | None = None


SLEEVED, BUSHED, STOOD = "Left sleeve on the tube", "Left bush in rib 1", "Left stand on rib 2"
JOINTS = (
    _Row(
        "Left rib 1 on the spar",
        (SPAR, "0.40 m from the root", CARBON),
        (RIB_1, "its back edge", WOOD),
        0.3,
        0.03,
        (),
        (TUBE,),
        (BUSHED,),
        {"fillets": 2},
    ),
    _Row(SLEEVED, (TUBE, "1.10 m from its inner end", METAL), (SLEEVE, "inside", METAL), 0.13, 0.12, (RIB_1, RIB_2)),
    _Row(BUSHED, (RIB_1, "the lower hole", WOOD), (BUSH, "outside", METAL), 0.06, 0.02, (RIB_1,)),
    _Row(STOOD, (RIB_2, "outboard face", WOOD), (STAND, "its foot", METAL), 0.14, 0.09, (RIB_2,)),
    _Row(
        "Left inner bracket on the spar",
        (SPAR, "0.31 m from the root", CARBON),
        (INNER, "both plates", STEEL),
        0.11,
        0.08,
        (RIB_1,),
        (),
        (),
        {"wet": True},
    ),
    _Row(
        "Left outer bracket on the spar",
        (SPAR, "2.55 m from the root", CARBON),
        (OUTER, "both plates", STEEL),
        0.11,
        0.08,
        (RIB_2,),
        (),
        (),
        {"wet": True},
    ),
    _Row(
        "Left tube in the inner bracket",
        (INNER, "the socket", STEEL),
        (TUBE, "inner end", METAL),
        0.13,
        0.05,
        (RIB_1,),
        (INNER,),
    ),
    _Row(
        "Left tube in the outer bracket",
        (OUTER, "the socket", STEEL),
        (TUBE, "outer end", METAL),
        0.13,
        0.05,
        (RIB_2,),
        (OUTER,),
    ),
    _Row(
        "Left rib 1 on the tube",
        (TUBE, "0.09 m from its inner end", METAL),
        (RIB_1, "the round hole", WOOD),
        0.13,
        0.006,
        (),
        (TUBE,),
        (),
        {"fillets": 2},
    ),
    _Row(
        "Left rib 2 on the spar",
        (SPAR, "1.40 m from the root", CARBON),
        (RIB_2, "its back edge", WOOD),
        0.29,
        0.03,
        (),
        (TUBE,),
        (STOOD,),
        {"fillets": 2},
    ),
    _Row(
        "Left rib 2 on the tube",
        (TUBE, "the sleeve", METAL),
        (RIB_2, "the round hole", WOOD),
        0.13,
        0.006,
        (),
        (TUBE,),
        (),
        {"fillets": 2},
    ),
    _Row(
        "Left rib 3 on the spar",
        (SPAR, "2.40 m from the root", CARBON),
        (RIB_3, "its back edge", WOOD),
        0.28,
        0.03,
        (),
        (),
        (),
        {"fillets": 2},
    ),
    _Row("Left hinge arm on rib 3", (RIB_3, "outboard face", WOOD), (ARM, "its foot", METAL), 0.18, 0.05, (), (RIB_3,)),
    _Row("Left nose strip on rib 1", (RIB_1, "the nose", WOOD), (STRIP, "inner end", WOOD), 0.04, 0.03, (), (RIB_1,)),
    _Row("Left nose strip on rib 2", (RIB_2, "the nose", WOOD), (STRIP, "middle", WOOD), 0.04, 0.03, (), (RIB_2,)),
    _Row("Left nose strip on rib 3", (RIB_3, "the nose", WOOD), (STRIP, "outer end", WOOD), 0.04, 0.03, (), (RIB_3,)),
)
#: Those whose fittings are there.
HERE = (SLEEVED, BUSHED, STOOD)


def found_nose(uow: UnitOfWork, now: datetime) -> None:
    """The fittings, and the joints between them."""
    founding = Founding(uow, now)
    ids = {part.name: part.id for part in uow.all(Part)}
    rank = max(part.rank for part in uow.all(Part))
    wing = stable_id("assembly", AIRFRAME, "Wing")
    for rank, (name, size) in enumerate(FITTINGS.items(), rank + 1):  # noqa: B020
        shape = founding.shape(f"Reedling {name}", *pieces(**{name.partition(" ")[2].replace(" ", "_"): size}))
        ids[name] = founding.part(wing, founding.design(shape, name, "whole"), "left", name, rank)
    for rank, row in enumerate(JOINTS, rank + 1):  # noqa: B020
        design = founding.design(None, row.name, "whole")
        job = bond(row.length_m, width_m=row.width_m, thickness_mm=0.5, one=row.one[2], other=row.other[2], people=1,
                   **(row.more or {}))  # fmt: skip
        products = {"paste": stable_id("sheet", job.products["paste"])}
        founding.job(design, paste_bond.RECIPE.key, products, job.given)
        after = [(ids[SPAR], "fit")] if row.one[0] == SPAR else []
        ids[row.name] = founding.part(wing, design, "left", row.name, rank, after)
        if row.name not in HERE:
            due = (now + timedelta(days=WING)).date()
            uow.add(Delivery(id=stable_id("delivery", ids[row.name]), part_id=ids[row.name], step_key="fit",
                             what="brackets and ribs for the left nose", expected_on=due, updated_at=now))  # fmt: skip
    for row in JOINTS:
        faces = [Tied(ids[part], where, fixes) for (part, where, _), fixes in ((row.one, False), (row.other, True))]
        asked = {name: [ids[one] for one in getattr(row, name)] for name in ("loose", "located", "shuts")}
        rivets = _RIVETS if row.name == "Left hinge arm on rib 3" else {}
        uow.add(Joint(part_id=ids[row.name], faces=[asdict(face) for face in faces], after=[], fasteners=rivets,
                      updated_at=now, **asked))  # fmt: skip


_RIVETS = {
    "kind": "blind",
    "diameter_mm": 3.2,
    "material": "laminate",
    "one_mm": 6.0,
    "other_mm": 3.0,
    "pitch_mm": 40.0,
}


def glued_so_far(week: Week) -> None:
    """Sleeve and stand are on; the faces of the bush were ready yesterday, and it was not glued."""
    paste = "Heron 30 paste"
    for joint, clock, cup in ((SLEEVED, "10", ("21.5", "21.4")), (STOOD, "13", ("16.2", "16.4"))):
        week.work(joint, "fit", 3, f"{clock}:40", f"{int(clock) + 1}:10", "Odile")
        hour = int(clock) + 1
        week.work(joint, "prepare", 3, f"{hour}:10", f"{hour}:40", "Odile")
        week.work(joint, "bond", 3, f"{hour}:45", f"{hour + 1}:20", "Odile")
        week.cup(joint, "bond", paste, *cup, 3, f"{hour}:50", "Odile", "HP-31")
        week.found_hard(joint, "bond", 2, f"{hour}:32", "Odile")
        week.work(joint, "look", 2, f"{hour}:34", f"{hour}:55", "Odile")
    week.work(BUSHED, "fit", 1, "13:30", "14:10", "Odile")
    week.ticks(BUSHED, "prepare", 1, one_cut="15:05", one_moisture="15:12,10.5", one_dust="15:15",
               other_degrease="15:20", other_abrade="15:31", other_wipe="15:40")  # fmt: skip
    week.work(BUSHED, "prepare", 1, "15:00", "15:42", "Odile")

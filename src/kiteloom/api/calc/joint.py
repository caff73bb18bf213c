"""Joints: what their bond lines take, the order they are done in, and their fasteners."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from kiteloom.api.house import Routes
from kiteloom.core.base.problems import between
from kiteloom.core.build import fasteners as rows
from kiteloom.core.build.bond_line import SQUEEZE_OUT, fillet_g, line_g
from kiteloom.core.build.faces import PREPARE, Face, barrier_between
from kiteloom.core.build.joint_order import MOST_JOINTS, Joint, Order, joint_order

bp = Routes("calc_joint", "Calculations", "/calc")

Names = Annotated[list[str], Field(max_length=500)]


class LineIn(BaseModel):
    """A glue line: its size, the fillets along it, and its two faces."""

    name: str
    length_m: float
    width_m: float
    thickness_mm: float
    fillets: int = 0
    fillet_mm: float = 0.0
    faces: tuple[Face, Face]


class BondIn(BaseModel):
    """Glue lines of one adhesive."""

    density_g_ml: float
    squeeze_out: float = SQUEEZE_OUT
    joints: list[LineIn] = Field(max_length=1000)


class LineOut(BaseModel):
    """What a glue line takes [g], what keeps its faces apart, and what each of them wants."""

    name: str
    line_g: float
    fillet_g: float
    grams: float
    barrier: str | None
    prepare: tuple[str, str]


class BondOut(BaseModel):
    """Every glue line, and all together [g]."""

    joints: list[LineOut]
    total_g: float


@bp.post("/bond")
@bp.takes(BondIn)
@bp.gives(BondOut)
def bond(order: BondIn) -> dict[str, Any]:
    """Weigh glue lines and say how their faces are made ready."""
    between("squeeze_out", order.squeeze_out, 1, 10, name="the squeeze-out factor")
    found = []
    for one in order.joints:
        line = line_g(one.length_m, one.width_m, one.thickness_mm, order.density_g_ml)
        fillets = fillet_g(one.length_m, one.fillets, one.fillet_mm, order.density_g_ml)
        found.append(
            {
                "name": one.name,
                "line_g": line,
                "fillet_g": fillets,
                "grams": line * order.squeeze_out + fillets,
                "barrier": barrier_between(*one.faces) or None,
                "prepare": [PREPARE[face] for face in one.faces],
            }
        )
    return {"joints": found, "total_g": sum(row["grams"] for row in found)}


class JointIn(BaseModel):
    """A joint, the parts it fixes, those it needs loose or located, and the joints it comes after."""

    id: str
    fixes: Names
    loose: Names = []
    located: Names = []
    after: Names = []

    def joint(self) -> Joint:
        """As it is put in order."""
        return Joint(self.id, tuple(self.fixes), tuple(self.loose), tuple(self.located), tuple(self.after))


class JointsIn(BaseModel):
    """Joints to be put in order."""

    joints: list[JointIn] = Field(max_length=MOST_JOINTS)


@bp.post("/joint-order")
@bp.takes(JointsIn)
@bp.gives(Order)
def put_in_order(order: JointsIn) -> Order:
    """Put joints in order."""
    return joint_order([one.joint() for one in order.joints])


class FastenersIn(BaseModel):
    """A row of fasteners through a stack, and what is meant to be used."""

    kind: Literal["solid", "blind"]
    diameter_mm: float
    countersunk: bool = False
    rows: int = 1
    material: Literal["sheet metal", "laminate"]
    stack_mm: list[float] = Field(max_length=50)
    edge_mm: float | None = None
    pitch_mm: float | None = None
    length_mm: float | None = None
    span_mm: float | None = None


@bp.post("/fasteners")
@bp.takes(FastenersIn)
@bp.gives(rows.Fasteners)
def set_fasteners(order: FastenersIn) -> rows.Fasteners:
    """Say how near, how long and where fasteners are set."""
    return rows.fasteners(
        order.kind,
        order.diameter_mm,
        order.material,
        order.stack_mm,
        countersunk=order.countersunk,
        rows=order.rows,
        edge_mm=order.edge_mm,
        pitch_mm=order.pitch_mm,
        length_mm=order.length_mm,
        span_mm=order.span_mm,
    )

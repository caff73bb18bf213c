"""The rest of the Reedling: what the club builds once the first wing is closed. All invented.

Its wood, cloth and foam are ordered for later, so the week on the bench is not disturbed by it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from kiteloom.core.build.recipes import (
    cover,
    fill_fair,
    foam_core,
    paint,
    paste_bond,
    plywood,
    prime,
    sandwich_skin,
    sticks,
    tank,
    varnish,
    wood_frame,
    wrap,
)
from kiteloom.core.laminate.zones import Band, Strip, Zone, zone_says
from kiteloom.demo.tank import TANK
from kiteloom.store.models import Delivery, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.build.founding import Founding
from kiteloom.workshop.build.parts import built_part

AIRFRAME = "Reedling"
#: When the material of each stage is expected, days from now.
WING, TAIL, FUSELAGE = 21, 28, 35
Given = dict[str, Any]

#: Where the parts on the bench lie: aft of the nose and out from the middle [m].
PLACES: dict[str, tuple[float, float, str]] = {
    "wing, upper skin": (1.72, 0.55, "out to the side"),
    "wing, lower skin": (1.72, 0.55, "out to the side"),
    "aileron": (2.27, 5.35, "out to the side"),
    "flap, upper skin": (2.54, 0.7, "out to the side"),
    "Tailplane": (5.95, 0.0, "out to the side"),
    "Rudder": (6.35, 0.0, "upright"),
}


def _sheet(name: str) -> str:
    return stable_id("sheet", name)


def plies(*angles: float, core: str | None = "Bulrush 60, 6 mm foam") -> dict[str, Any]:
    """A ply book of light glass, its core after the first ply."""
    rows = [{"cloth_id": _sheet("Sedge 163 twill glass"), "angle_deg": angle} for angle in angles]
    return {"plies": rows, "core_id": _sheet(core) if core else None, "core_after": 1 if core else 0}


@dataclass(frozen=True)
class _Job:
    """A way of building with its products, what it is given, and its ply book."""

    recipe: str
    products: dict[str, str]
    given: Given | None = None
    plies: dict[str, Any] | None = None


_SKIN = _Job(sandwich_skin.RECIPE.key, {"resin": "Tarn 210 with 214 slow"}, None, plies(45, 45))
#: A flap's lower skin: doubled at its root in steps, with a strip under its hinges laid in a second bag.
_ZONED = {
    "plies": [
        *plies(45)["plies"],
        *({**row, "zone": "root"} for row in plies(0, 0)["plies"]),
        {**plies(0)["plies"][0], "zone": "hinges", "stage": 2},
        *plies(45)["plies"],
    ],
    "core_id": _sheet("Bulrush 60, 6 mm foam"),
    "core_after": 4,
    "zones": [
        zone_says(Zone("root", Band(0.0, 0.4), 0.008)),
        zone_says(Zone("hinges", Strip(0.0, 0.22, 2.2, 0.22, 0.06))),
    ],
}
_FLAP = _Job(sandwich_skin.RECIPE.key, {"resin": "Tarn 210 with 214 slow"}, None, _ZONED)
_FOAM = _Job(foam_core.RECIPE.key, {"resin": "Tarn 210 with 214 slow"}, None, plies(45, 0))
_FAIR = _Job(fill_fair.RECIPE.key, {"filler": "Heron 35 fairing paste"}, {"fills": 2, "on_foam": False})
_PRIME = _Job(prime.RECIPE.key, {"primer": "Sallow primer"}, {"coats": 2, "method": "roller"})
_VARNISH = _Job(varnish.RECIPE.key, {"varnish": "Sallow varnish"})
#: Of ribs as wide as a hand, on all sides.
_VARNISH_RIBS = _Job(varnish.RECIPE.key, {"varnish": "Sallow varnish"}, {"rib_area_m2": 0.05})


_VARNISH_NOSE = _Job(varnish.RECIPE.key, {"varnish": "Sallow varnish"}, {"rib_pitch_m": 0.3048, "rib_area_m2": 0.06})
_PAINT = _Job(paint.RECIPE.key, {"paint": "Sallow enamel"}, {"coats": 2, "method": "roller", "masked_m": 3.0})
#: Nose ribs of birch under the D-box: sawn in packs of both wings' like pieces, a hole through each.
_RIBS = _Job(
    plywood.RECIPE.key,
    {"sheet": "Birch plywood 1.5 mm"},
    {"rib_pitch_m": 0.3048, "from_share": 0.0, "to_share": 0.3, "under_m": 0.0015, "holes": 1, "hole_m": 0.04,
     "gussets": 48, "gusset_m": 0.04},
)  # fmt: skip
_STICKS = _Job(
    sticks.RECIPE.key,
    {"glue": "Heron glue"},
    {"stock_m": 2.4, "shelf": "1.8, 1.25", "off_from_m": 1.6, "off_to_m": 2.2},
)
_TANK = _Job(
    tank.RECIPE.key,
    {"sealant": "Gull tank sealant", "solvent": "Kelp cleaner"},
    {"threads": 6, "volume_l": 38.0, "sealed_m": 1.9},
)
_TIPS = _Job(
    paint.RECIPE.key,
    {"paint": "Sallow enamel"},
    {"coats": 2, "method": "spray gun", "masked_m": 1.0, "together": "all tips"},
)
_WRAP = _Job(
    wrap.RECIPE.key,
    {"cloth": "Linden 92, cream", "cement": "Rush heat-set adhesive", "tape": "Linden edge tape"},
    {"rib_width_m": 0.01, "thin_edge": "is thin", "grommets": 2},
)
#: Fabric over the aft bays of the wings, from the spar back.
_BAYS = _Job(_WRAP.recipe, _WRAP.products, {"rib_width_m": 0.01, "practice": "by its side: a lower one first"})
#: On the elevators it is practised, before the fin.
_PRACTICE = _Job(_WRAP.recipe, _WRAP.products, {**(_WRAP.given or {}), "practice": "first, for practice"})
_PLAIN = _Job(
    cover.RECIPE.key,
    {"cloth": "Linden 70, plain", "cement": "Rush covering cement", "coat": "Rush clear coat",
     "block": "Rush silver block"},
    {"rib_pitch_m": 0.15, "rib_width_m": 0.008, "held": "lacing", "pitch_m": 0.0635, "grommets": 2, "rings": 1},
)  # fmt: skip


def _frame(**given: Any) -> _Job:
    return _Job(wood_frame.RECIPE.key, {"glue": "Heron glue"}, given)


def bond(length_m: float, **more: Any) -> _Job:
    """A bonding with paste."""
    given = {"length_m": length_m, "width_m": 0.025, "thickness_mm": 1.0, "one": "wood", "other": "wood", **more}
    return _Job(paste_bond.RECIPE.key, {"paste": "Heron 30 paste"}, given)


def strips(measured: str, *rows: tuple[float, float]) -> tuple[str, dict[str, Any]]:
    """How long across a surface is, at places along it [m]."""
    return "strips", {"measured": measured, "strips": [{"at_m": at, "across_m": across} for at, across in rows]}


def _outline(*loops: Sequence[tuple[float, float]]) -> tuple[str, dict[str, Any]]:
    outer, *holes = [[list(point) for point in loop] for loop in loops]
    return "outline", {"outlines": [{"outer_mm": outer, "holes_mm": holes}]}


def pieces(**rows: tuple[int, float, float, float]) -> tuple[str, dict[str, Any]]:
    """How many, and the length, width and thickness of one [m]."""
    named = [
        {"name": name.replace("_", " "), "count": n, "length_m": length, "width_m": width, "thickness_m": thick}
        for name, (n, length, width, thick) in rows.items()
    ]
    return "pieces", {"pieces": named}


def _stations(naca: str, *rows: tuple[float, float, float], every: float = 0.0) -> tuple[str, dict[str, Any]]:
    stations = [
        {"at_m": y, "chord_m": chord, "leading_edge_m": lead, "section": {"naca": naca}} for y, chord, lead in rows
    ]
    return "loft", {"stations": stations, "ribs": {"every_m": every}} if every else {"stations": stations}


def _aft_bays(*rows: tuple[float, float], every: float) -> tuple[str, dict[str, Any]]:
    """Behind the D-box, from spar to trailing edge: along the span, and how deep [m]."""
    above, below = [[0, 0.12], [0.5, 0.075], [1, 0]], [[0, -0.08], [0.5, -0.03], [1, 0]]
    stations = [{"at_m": at, "chord_m": deep, "leading_edge_m": 0.0, "section": {"points": [above, below]}}
                for at, deep in rows]  # fmt: skip
    return "loft", {"stations": stations, "ribs": {"every_m": every}}


#: The side of the fuselage in ply: nose to rudder post, with its door.
SIDE = [(0, -80), (600, 260), (1500, 420), (2500, 430), (4200, 300), (6300, 170)]
SIDE += [(6300, -60), (4200, -230), (2500, -430), (1300, -480), (500, -330)]
DOOR = [(1550, 330), (2350, 340), (2350, -180), (1550, -180)]
#: Frame of the canopy, glued of laminations: seen from above.
CANOPY = [(0, -200), (400, -380), (1000, -420), (1500, -390), (1500, 390), (1000, 420), (400, 380), (0, 200)]
CANOPY_HOLE = [(60, -160), (420, -325), (1000, -365), (1440, -335), (1440, 335), (1000, 365), (420, 325), (60, 160)]


def found_rest(uow: UnitOfWork, now: datetime) -> None:
    """Everything else of the airframe, and where all of it lies."""
    rest = _Rest(uow, now)
    both = ("left", "right")
    wing, flaps, tail = "Wing", "Flaps and ailerons", "Tail"
    body, glass, trim = "Fuselage", "Canopy", "Fairings and tips"
    outer = stable_id("form", "Reedling outer wing")
    flap = stable_id("form", "Reedling flap")
    rest.twin(wing, stable_id("design", outer, "Aft rib set"), "Right wing, aft ribs", WING, "sand")
    rest.twin(wing, stable_id("design", outer, "D-box spar cap"), "Right wing, spar cap", WING, "")
    built = ("Right wing, upper skin", "Right wing, lower skin", "Right wing, aft ribs", "Right wing, spar cap")
    rest.twin(wing, stable_id("design", outer, "Wing closing joint"), "Right wing, closing joint", WING, "fit", built)
    rest.twin(flaps, stable_id("design", flap, "Flap upper skin"), "Right flap, upper skin", WING, "")
    rest.parts(flaps, both, "flap, lower skin", flap, "lower", [_FLAP], WING, (2.54, 0.7))
    plates = pieces(blade=(2, 0.9, 0.16, 0.003), box_side=(4, 0.95, 0.12, 0.002), arm=(4, 0.14, 0.03, 0.004))
    rest.parts(wing, both, "airbrake", plates, "whole", [_PRIME], WING)
    tip = strips("all round", (0, 1.25), (0.15, 1.1), (0.3, 0.7), (0.38, 0.0))
    rest.parts(trim, both, "wing tip", tip, "whole", [_SKIN, _FAIR, _PRIME, _TIPS], WING, (1.86, 7.75))
    fin = _stations("0009", (0, 0.78, 0), (1.25, 0.45, 0.42), every=0.15)
    rest.parts(
        tail,
        ("centre",),
        "Fin",
        fin,
        "whole",
        [_frame(stringers=2, thick_m=0.004, long_g=2400.0), _VARNISH_RIBS, _WRAP],
        TAIL,
        (5.4, 0),
        "upright",
    )
    half = _stations("0009", (0, 0.32, 0), (1.28, 0.24, 0.03), every=0.16)
    rest.parts(
        tail,
        both,
        "elevator",
        half,
        "whole",
        [_frame(thick_m=0.003, long_g=650.0), _VARNISH_RIBS, _PRACTICE],
        TAIL,
        (6.62, 0.02),
    )
    rest.also(uow.get(Part, rest.id_of("Rudder")).design_id, _PLAIN, "j2")
    rest.also(uow.get(Part, rest.id_of("Left aileron")).design_id, _PAINT, "j4")
    end = strips("all round", (0, 0.9), (0.1, 0.6), (0.16, 0.0))
    rest.parts(trim, both, "tailplane tip", end, "whole", [_SKIN, _PRIME, _TIPS], TAIL, (6.05, 1.3))
    rest.parts(
        trim,
        ("centre",),
        "Fin fairing",
        strips("one face", (0, 0.1), (0.4, 0.32), (0.9, 0.38)),
        "upper",
        [_SKIN, _FAIR],
        TAIL,
        (4.9, 0),
        "fore and aft",
    )
    side = _outline(SIDE, DOOR)
    frame = _frame(rib_pitch_m=0.45, stringers=4, thick_m=0.003, long_g=6500.0)
    rest.parts(
        body, both, "fuselage side", side, "whole", [frame, _VARNISH], FUSELAGE, (0.0, 0.43), "fore and aft, on edge"
    )
    frames = pieces(frame=(9, 0.86, 0.78, 0.012), half_frame=(6, 0.5, 0.4, 0.009), floor_bearer=(5, 0.84, 0.06, 0.02))
    rest.parts(body, ("centre",), "Bulkheads", frames, "whole", [_frame(solid=0.3), _VARNISH], FUSELAGE)
    floor = _outline([(0, -360), (1900, -400), (1900, 400), (0, 360)], [(900, -60), (1000, -60), (1000, 60), (900, 60)])
    frame = _frame(rib_pitch_m=0.3, thick_m=0.006, long_g=1800.0)
    rest.parts(
        body, ("centre",), "Cockpit floor", floor, "whole", [frame, _VARNISH], FUSELAGE, (0.6, 0), "fore and aft"
    )
    rest.parts(body, ("centre",), "Keel joint", None, "whole", [bond(12.6, people=3)], FUSELAGE)
    deck = strips("one face", (0, 0.9), (1.2, 0.78), (2.6, 0.5), (3.4, 0.3))
    rest.parts(
        body, ("centre",), "Turtle deck", deck, "upper", [_SKIN, _FAIR, _PRIME], FUSELAGE, (2.5, 0), "fore and aft"
    )
    belly = strips("one face", (0, 0.7), (1.5, 0.9), (3.0, 0.62), (5.2, 0.24))
    rest.parts(
        body, ("centre",), "Belly skin", belly, "lower", [_SKIN, _FAIR, _PRIME], FUSELAGE, (0.9, 0), "fore and aft"
    )
    cowl = strips("one face", (0, 0.5), (0.25, 0.95), (0.7, 1.15))
    for name in ("Upper cowl", "Lower cowl"):
        side_of = "upper" if name.startswith("Upper") else "lower"
        rest.parts(body, ("centre",), name, cowl, side_of, [_SKIN, _FAIR, _PRIME], FUSELAGE, (-0.05, 0), "fore and aft")
    frame, hoop = _frame(rib_pitch_m=0.3, blocks=6, thick_m=0.018), _outline(CANOPY, CANOPY_HOLE)
    rest.parts(
        glass, ("centre",), "Canopy frame", hoop, "whole", [frame, _VARNISH], FUSELAGE, (0.75, 0), "fore and aft"
    )
    panel = _outline([(-400, 0), (400, 0), (330, 260), (-330, 260)], [(-200, 90), (-120, 90), (-120, 170), (-200, 170)])
    rest.parts(glass, ("centre",), "Instrument panel", panel, "whole", [_VARNISH], FUSELAGE)
    rest.parts(wing, both, "nose ribs", outer, "whole", [_RIBS, _VARNISH_NOSE], WING)
    caps = pieces(
        spar_cap=(4, 3.6, 0.03, 0.012), stringer=(6, 1.9, 0.03, 0.012), rib_cap=(26, 0.42, 0.012, 0.006),
        post=(14, 0.18, 0.012, 0.006),
    )  # fmt: skip
    rest.parts(tail, ("centre",), "Caps and stringers", caps, "whole", [_STICKS], TAIL)
    bays = _aft_bays((0.0, 0.58), (7.2, 0.32), every=0.4)
    for side_of in ("upper", "lower"):
        rest.parts(wing, both, f"aft bays, {side_of} side", bays, side_of, [_BAYS], FUSELAGE, (2.26, 0.55),
                   built="wing, closing joint")  # fmt: skip
    hold = strips("all round", (0, 1.2), (0.55, 1.2), (0.56, 0.0))
    rest.parts(body, ("centre",), TANK, hold, "whole", [_TANK], 0, (1.6, 0), "out to the side")
    root = strips("one face", (0, 0.12), (0.6, 0.22), (1.3, 0.1))
    rest.parts(trim, both, "wing root fairing", root, "upper", [_SKIN, _FAIR], FUSELAGE, (1.7, 0.5), "fore and aft")
    spat = strips("all round", (0, 0.2), (0.25, 0.8), (0.6, 0.7), (0.95, 0.0))
    rest.parts(trim, ("centre",), "Wheel fairing", spat, "whole", [_SKIN, _FAIR, _PRIME], FUSELAGE)
    rest.places()


class _Rest:
    """Founds parts after those that are there, each waiting for its material."""

    def __init__(self, uow: UnitOfWork, now: datetime) -> None:
        self._uow, self._now, self._founding = uow, now, Founding(uow, now)
        self._ids = {part.name: part.id for part in uow.all(Part)}
        self._rank = 20
        names = ("Wing", "Flaps and ailerons", "Tail", "Fuselage", "Canopy", "Fairings and tips")
        self._assemblies = {name: stable_id("assembly", AIRFRAME, name) for name in names}
        for rank, name in enumerate(names[3:], 4):
            self._founding.assembly(AIRFRAME, name, rank)

    def id_of(self, name: str) -> str:
        """The id of a part by its name."""
        return self._ids[name]

    def also(self, design: str, job: _Job, key: str) -> None:
        """One more way of building, on a design that is there."""
        products = {role: _sheet(product) for role, product in job.products.items()}
        self._founding.job(design, job.recipe, products, job.given, job.plies, key=key)

    def twin(self, assembly: str, design: str, name: str, days: int, step: str, built: tuple[str, ...] = ()) -> None:
        """The right-hand part of a design; of what it is built from."""
        self._rank += 1
        after = [(self._ids[other], step) for other in built]
        key = self._founding.part(self._assemblies[assembly], design, "right", name, self._rank, after)
        self._ids[name] = key
        if not built:
            self._awaits(key, days, "carbon, foam and spruce for the right wing")

    def parts(
        self,
        assembly: str,
        hands: tuple[str, ...],
        name: str,
        shape: str | tuple[str, dict[str, Any]] | None,
        side: str,
        jobs: list[_Job],
        days: int,
        at: tuple[float, float] | None = None,
        lies: str = "out to the side",
        built: str = "",
    ) -> None:
        """A part, or a left and a right one; of a shape there is, or founded; ``built`` is what it comes after."""
        founding = self._founding
        shape_id = founding.shape(f"Reedling {name}", *shape) if isinstance(shape, tuple) else shape
        design = founding.design(shape_id, name, side)
        for n, job in enumerate(jobs, 1):
            products = {role: _sheet(product) for role, product in job.products.items()}
            founding.job(design, job.recipe, products, job.given, job.plies, key="" if n == 1 else f"j{n}")
        place = {"aft_m": at[0], "side_m": at[1], "lies": lies} if at else None
        for hand in hands:
            self._rank += 1
            called = name if hand == "centre" else f"{hand.capitalize()} {name}"
            after = [(self._ids[f"{hand.capitalize()} {built}"], "look")] if built else []
            key = founding.part(self._assemblies[assembly], design, hand, called, self._rank, after, place=place)
            self._ids[called] = key
            if not days:
                continue
            what = {WING: "carbon and foam", TAIL: "spruce for the tail"}.get(days, "plywood and foam for the fuselage")
            self._awaits(key, days, what)

    def _awaits(self, part_id: str, days: int, what: str) -> None:
        """Its first step waits for what was ordered."""
        first = built_part(self._uow, part_id).steps[0]
        due = (self._now + timedelta(days=days)).date()
        key = stable_id("delivery", part_id)
        row = Delivery(id=key, part_id=part_id, step_key=first.key, what=what, expected_on=due, updated_at=self._now)
        self._uow.add(row)

    def places(self) -> None:
        """Where the parts that were there before lie."""
        for part in self._uow.all(Part):
            for name, (aft, side, lies) in PLACES.items():
                if part.name == name or part.name.partition(" ")[2] == name:
                    part.place = {"aft_m": aft, "side_m": side, "lies": lies}

"""A tank: its fittings fitted and its threads tapped, rinsed until no dust is left in it, sealed, and tried with air.

Tapping makes dust, so it comes before the first rinse, and nothing that makes dust after. How often and with how much
it is rinsed is common practice; pressure, time and what may be missing are the kit maker's.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, cast

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.figures import Given as By
from kiteloom.core.base.quantities import QUART_L
from kiteloom.core.build.leak import LeakTest
from kiteloom.core.build.recipe import ANY_SHAPE, Recipe
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.build.task import Item, Need, Role, Task
from kiteloom.core.build.wet import cautions, stage_of, wet
from kiteloom.core.need.resin import spread
from kiteloom.core.need.supplies import Supply
from kiteloom.core.stores.materials import Solvent
from kiteloom.core.weight.part import Stays

#: When it may be put under pressure.
FULL = ("full",)
#: A US quart each, three times, an hour of drying between (common practice).
RINSES, DRY_MIN = 3, 60
#: Air that presses from inside tears a tank at its seams (common practice).
BURST = (
    "Air under pressure tears a tank: a pump by hand, a gauge and a valve that lets go, never the shop’s line, no face "
    "over it."
)
#: Solvent that was used (common practice).
_CATCH = "The rest is caught in a can with a lid and taken where the local rules say."
_PLUGS = ("threaded plugs", "bungs", "masking tape")


@dataclass(frozen=True)
class Given:
    """Its threads, how it is rinsed, what is sealed, and how it is tried."""

    threads: Annotated[int, Asked("Threads to tap", "count", low=0, high=100)] = 4
    rinses: Annotated[int, Asked("Rinses", "count", low=1, high=10)] = RINSES
    rinse_l: Annotated[
        float, Asked("Solvent for each", dimension="volume", scale=1000, unit=("l", "qt"), low=0.05, high=20)
    ] = QUART_L
    dry_min: Annotated[float, Asked("Dries between for", dimension="time", unit=("min", "min"), low=5, high=1440)] = (
        DRY_MIN
    )
    plugs: Annotated[str, Asked("Its openings are shut with", "choice", choices=_PLUGS)] = _PLUGS[0]
    sealed_m: Annotated[
        float, Asked("Seams and flanges to seal", dimension="length", unit=("m", "ft"), low=0.05, high=100)
    ] = 1.5
    bead_m: Annotated[
        float, Asked("Bead of sealant, wide", dimension="length", unit=("mm", "in"), low=0.001, high=0.05)
    ] = 0.008
    volume_l: Annotated[
        float | None, Asked("It holds", dimension="volume", scale=1000, unit=("l", "gal"), low=0.1, high=2000)
    ] = None
    test_kpa: Annotated[
        float, Asked("Tried with", dimension="pressure", scale=10, unit=("kPa", "psi"), low=0.5, high=50)
    ] = 7.0
    stands_h: Annotated[float, Asked("For", dimension="time", scale=60, unit=("h", "h"), low=0.25, high=72)] = 12.0
    allowed_kpa: Annotated[
        float, Asked("May lose", dimension="pressure", scale=10, unit=("kPa", "psi"), low=0.02, high=10)
    ] = 0.3


def _solvent(task: Task[Given]) -> Solvent:
    return cast(Solvent, task.materials["solvent"])


def steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps of a tank, in order, under stable keys.

    >>> [step.key for step in steps(example(RECIPE))]
    ['fit', 'tap', 'rinse-1', 'rinse-2', 'rinse-3', 'seal', 'pump', 'read']
    """
    given, sealant = task.given, task.products["sealant"]
    dust = "Goggles; the chips are sharp, glass dust itches: mask, extraction."
    fit = Estimate(60, each_min=6, count=given.threads, piece="fittings")
    found = [Step("fit", "Fit its lid, fittings and sender dry; drill, deburr", fit.minutes, 1, may_pause=True,
                  estimate=fit, caution=dust, stations=("bench",), access=True)]  # fmt: skip
    last = After("fit")
    if given.threads:
        tap = Estimate(15, each_min=4, count=given.threads, piece="threads")
        found.append(Step("tap", "Tap its threads, vacuum the chips out", tap.minutes, 1, (last,), may_pause=True,
                          estimate=tap, caution=dust, stations=("bench",), access=True))  # fmt: skip
        last = After("tap")
    rinse, care = Estimate(15), cautions(("Burns", "Vapour", "Static", *_solvent(task).hazards))
    for n in range(1, given.rinses + 1):
        key = f"rinse-{n}"
        found.append(Step(key, f"Rinse it with {_solvent(task).name}, {n} of {given.rinses}", rinse.minutes, 1, (last,),
                          estimate=rinse, caution=f"{care} {_CATCH}", stations=("bench",),
                          wait_min=given.dry_min, kind="rinse", listed=True, access=True))  # fmt: skip
        last = After(key)
    seal = Estimate(25, each_min=14, count=max(round(given.sealed_m), 1), piece="m of seam")
    on = Step("seal", "Seal lid and fittings, draw their screws down evenly", seal.minutes, 1, (last,), estimate=seal,
              stations=("bench",), gate=True, kind="seal")  # fmt: skip
    found.append(wet(on, sealant, stage_of(sealant.curing, FULL), closed=True))
    pump = Estimate(20)
    found.append(Step("pump", "Pump it up, note gauge, tank and barometer", pump.minutes, 1, (After("seal"),),
                      estimate=pump, caution=BURST, stations=("bench",), holds=True, wait_min=60 * given.stands_h,
                      listed=True, kind="tank"))  # fmt: skip
    read = Estimate(15)
    found.append(Step("read", "Read it again; let it off, weigh it", read.minutes, 1, (After("pump"),), estimate=read,
                      caution=BURST, stations=("bench",), listed=True, kind="tank"))  # fmt: skip
    return tuple(found)


def sealant_ml(given: Given) -> float:
    """A bead as wide as asked for and half as high, along all that is sealed [ml].

    >>> round(sealant_ml(Given(sealed_m=1.5, bead_m=0.008)), 6)
    48.0
    """
    return given.sealed_m * given.bead_m * given.bead_m / 2 * 1e6


def needs(task: Task[Given]) -> tuple[Need, ...]:
    """What is mixed of a sealant in two parts.

    >>> [(need.step, round(need.takes.total_g)) for need in needs(example(RECIPE))]
    [('seal', 56)]
    """
    sealant = task.products["sealant"]
    if sealant.parts is None:
        return ()
    return (Need("seal", "sealant", spread(sealant_ml(task.given) * sealant.wet_density_g_ml, task.losses)),)


def uses(task: Task[Given]) -> tuple[Supply, ...]:
    """Solvent by rinse, and sealant that comes in one part.

    >>> [(one.step, round(one.amount)) for one in uses(example(RECIPE))]
    [('rinse-1', 946), ('rinse-2', 946), ('rinse-3', 946)]
    """
    given, sealant = task.given, task.products["sealant"]
    found = [Supply(f"rinse-{n}", _solvent(task).name, 1000 * given.rinse_l, "volume", "so much a rinse")
             for n in range(1, given.rinses + 1)]  # fmt: skip
    if sealant.parts is None:
        whole = sealant_ml(given) / (1 - task.losses.cup_pct / 100)
        by = (By("seams and flanges", given.sealed_m, "length"), By("bead, wide", given.bead_m, "length"))
        found.append(Supply("seal", sealant.name, whole, "volume", "length × width × half as high, with what is lost",
                            by))  # fmt: skip
    return tuple(found)


def dried(task: Task[Given]) -> tuple[Stays, ...]:
    """The sealant that stays, where it comes in one part."""
    sealant = task.products["sealant"]
    if sealant.parts is not None:
        return ()
    grams = sealant_ml(task.given) * sealant.wet_density_g_ml
    return (Stays("seal", "coat", sealant.name, grams, "its bead × its density"),)


def asks(task: Task[Given]) -> tuple[str, ...]:
    """What is asked before anything is done.

    >>> asks(replace(example(RECIPE), given=Given(plugs="masking tape", volume_l=40.0)))
    ("Masking tape over its openings: solvent dissolves its glue, and that stays in the tank. Plugs or bungs don't.",)
    """
    found = []
    if task.given.plugs == "masking tape":
        found.append("Masking tape over its openings: solvent dissolves its glue, and that stays in the tank. "
                     "Plugs or bungs don't.")  # fmt: skip
    if task.given.volume_l is None:
        found.append("What it holds is not said: how large a leak is can't be told, only how much pressure is missing.")
    return tuple(found)


def tries(given: Given) -> LeakTest:
    """How it is tried with air."""
    return LeakTest(given.test_kpa, 60 * given.stands_h, given.allowed_kpa, given.volume_l)


def items(task: Task[Given], step_key: str) -> tuple[Item, ...]:
    """The run sheet of a rinse, of sealing, of the test.

    >>> [item.key for item in items(example(RECIPE), "rinse-1")]
    ['ready', 'shut', 'pour', 'turn', 'drain', 'open']
    """
    given = task.given
    if step_key.startswith("rinse-"):
        tape = "Its glue dissolves: look for it inside." if given.plugs == "masking tape" else ""
        return (
            Item("ready", "Outdoors or with the doors open, no flame, the can and the tank earthed"),
            Item("shut", f"Openings shut: {given.plugs}", tape),
            Item("pour", "Solvent poured in through a metal funnel", "No plastic funnel: it makes static."),
            Item("turn", "Turned slowly over every side and corner"),
            Item("drain", "Drained through a filter, and what came out is looked at",
                 "Dust in the last of it means one more."),
            Item("open", "Everything opened to dry"),
        )  # fmt: skip
    if step_key == "seal":
        by_air = task.products["sealant"].chemistry == "moisture"
        damp = "It cures by the air's moisture: the plan waits longer in dry winter air." if by_air else ""
        return (
            Item("ready", "Faces wiped and dry; lid, fittings and screws laid in order"),
            Item("bead", "An unbroken bead inside the line of the screws, round each of them"),
            Item("down", "Lid and fittings down, screws drawn evenly, crosswise"),
            Item("squeeze", "It comes out all round; fillets smoothed", damp),
            Item("clean", "Tools cleaned; a bead on card laid beside it", "The bead on card is its witness."),
        )
    if step_key == "pump":
        return (
            Item("ready", "Every opening shut but the gauge and a valve that lets go"),
            Item("soap", "A little air first, soap water on every seam and fitting"),
            Item("up", "Pumped up by hand, the valve shut, ten minutes to settle"),
            Item("note", "Gauge, the tank’s own temperature and the barometer noted on its Leak test"),
        )
    return (
        Item("ready", "Nothing has been touched since"),
        Item("note", "Gauge, the tank’s own temperature and the barometer noted on its Leak test"),
        Item("off", "Let off slowly before anything is opened"),
    )


RECIPE = Recipe(
    "tank",
    "rinsing and sealing a tank",
    "Fitted, threads tapped, rinsed, sealed, and tried with air until its leak test holds.",
    Given,
    (Role("sealant", "Sealant", ("sealant",), (FULL,)), Role("solvent", "Solvent", ("solvent",))),
    steps,
    needs,
    items,
    supplies=uses,
    stations=("bench",),
    shapes=ANY_SHAPE,
    wood=dried,
    asks=asks,
    tries=tries,
)

"""From what: when a stage of a cure is reached."""

from __future__ import annotations

from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.cure.progress import StageTime
from kiteloom.core.cure.system import CureSystem


def stage_figure(
    system: CureSystem,
    stage: StageTime,
    mean_c: float,
    stalled_h: float,
    temperature: str,
    assumed: bool,
    mean_rh_pct: float | None = None,
) -> Figure:
    """When a stage is reached, counted from the mix; ``mean_rh_pct`` is the air's until then, where it is known.

    >>> from kiteloom.core.air.profile import Profile
    >>> from kiteloom.core.cure.progress import cure_times
    >>> peel = cure_times(EPOXY, 0, Profile.steady(23)).stages[1]
    >>> round(stage_figure(EPOXY, peel, 23, 0, "Temperature, recorded", False).value)
    600
    """
    given = [
        Given(f"hours to {stage.name} at the sheet's temperature", stage.hours * 60, "hours"),
        Given("the sheet's temperature", system.reference_c, "temperature"),
        _speed(system),
        Given("mean temperature until then", mean_c, "temperature", assumed),
        Given("temperature from", temperature, assumed=assumed),
    ]
    if system.min_c is not None:
        given += [
            Given("stands still below", system.min_c, "temperature"),
            Given("stood still for", stalled_h * 60, "hours", assumed),
        ]
    equation = "time at which ∫ exp[−Eₐ/R·(1/T − 1/T_ref)] dt equals the sheet's hours"
    source = "Maturity method (ASTM C1074 states it for concrete). It predicts; a reading releases the part."
    if system.rule_of_thumb:
        equation = "time at which ∫ (hours at T_ref ÷ hours at T) dt equals the sheet's hours, T by the sheet's table"
        source = "A rule of thumb: what dries goes by air, humidity and thickness too. A reading releases the part."
    if system.reference_rh_pct is not None:
        known = "not known; the sheet’s" if mean_rh_pct is None else f"{mean_rh_pct:.0f} %"
        given += [
            Given("the sheet’s humidity", f"{system.reference_rh_pct:.0f} % (standard air, ISO 291)"),
            Given("mean humidity until then", known, assumed=True),
        ]
        equation = (
            "time at which ∫ (hours at T_ref ÷ hours at T) × (humidity ÷ the sheet’s) dt equals the sheet's hours, "
            "T by the sheet's table"
        )
        source = (
            "A rule of thumb: what takes its moisture from the air goes by its vapour and by how thick it is: a bead "
            "twice as thick takes four times as long. A reading releases the part."
        )
    return Figure(
        f"stage:{stage.name}",
        f"{stage.name.capitalize()}, after the mix",
        stage.minutes,
        "hours",
        equation,
        tuple(given),
        source,
    )


def _speed(system: CureSystem) -> Given:
    if system.rule_of_thumb:
        rows = ", ".join(f"{rate:.2g} at {celsius:g} °C" for celsius, rate in system.table)
        rows += " (doubles every 10 °C)" if system.assumed else ""
        return Given("speed against the sheet's temperature", rows, assumed=system.assumed)
    name = "activation energy, kJ/mol" + (" (doubles every 10 °C)" if system.assumed else "")
    return Given(name, system.activation_energy_kj_mol, assumed=system.assumed)

"""Moist air: saturation pressure, dew point, and whether a surface is far enough above it.

References
----------
ASHRAE Handbook – Fundamentals, Psychrometrics: saturation pressure over ice and over water
(Hyland and Wexler). ISO 8502-4: a surface to be coated at least 3 °C above the dew point.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal, TypeVar, cast

import numpy as np
from numpy.typing import NDArray

from kiteloom.core.base.problems import between

Floats = NDArray[np.float64]


Numbers = TypeVar("Numbers", float, Floats)


KELVIN = 273.15


#: Above this water is liquid, below it ice is what vapour settles to [°C].
TRIPLE_C = 0.01


#: ISO 8502-4 [K].
LEAST_MARGIN_K = 3.0


_ICE = (-5.6745359e3, 6.3925247, -9.677843e-3, 6.2215701e-7, 2.0747825e-9, -9.484024e-13, 4.1635019)


_WATER = (-5.8002206e3, 1.3914993, -4.8640239e-2, 4.1764768e-5, -1.4452093e-8, 0.0, 6.5459673)


@dataclass(frozen=True)
class Air:
    """What a probe reads: temperature [°C] and, where it can, relative humidity [%]."""

    temp_c: float
    rh_pct: float | None = None


def _log_pressure(kelvin: Any, terms: tuple[float, ...]) -> Any:
    a, b, c, d, e, f, g = terms
    powers = b + kelvin * (c + kelvin * (d + kelvin * (e + kelvin * f)))
    return a / kelvin + powers + g * np.log(kelvin)


def _slope(kelvin: Any, terms: tuple[float, ...]) -> Any:
    a, _, c, d, e, f, g = terms
    return -a / kelvin**2 + c + kelvin * (2 * d + kelvin * (3 * e + kelvin * 4 * f)) + g / kelvin


def saturation_pressure(temp_c: Numbers) -> Numbers:
    """Pressure of saturated water vapour [kPa], over ice up to 0.01 °C and over water above; −100 to 200 °C.

    >>> [round(saturation_pressure(c), 3) for c in (0.0, 20.0, 30.0)]
    [0.611, 2.339, 4.246]
    """
    kelvin = np.asarray(temp_c, dtype=float) + KELVIN
    logs = np.where(kelvin <= TRIPLE_C + KELVIN, _log_pressure(kelvin, _ICE), _log_pressure(kelvin, _WATER))
    pressure = np.exp(logs) / 1000
    return cast(Numbers, pressure if pressure.ndim else float(pressure))


def dew_point(temp_c: Numbers, rh_pct: Numbers) -> Numbers:
    """The temperature at which the air's vapour begins to settle [°C].

    Parameters
    ----------
    temp_c : float or array
        Air, −60 to 100 °C.
    rh_pct : float or array
        Relative humidity, above 0 to 100 %.

    Examples
    --------
    >>> round(dew_point(25.0, 50.0), 3)
    13.864
    """
    temp, rh = np.asarray(temp_c, dtype=float), np.asarray(rh_pct, dtype=float)
    between("temp_c", float(temp.min()), -60, unit="°C", name="temperature")
    between("temp_c", float(temp.max()), high=100, unit="°C", name="temperature")
    between("rh_pct", float(rh.min()), 0, unit="%", name="humidity", open_low=True)
    between("rh_pct", float(rh.max()), high=100, unit="%", name="humidity")
    wanted = np.log(saturation_pressure(temp) * np.maximum(rh, 1e-3) / 100 * 1000)
    over_ice = wanted <= _log_pressure(TRIPLE_C + KELVIN, _ICE)
    kelvin = np.minimum(temp, 60) + KELVIN
    for _ in range(60):
        # Newton on the logarithm, which is nearly straight in 1/T.
        miss = np.where(over_ice, _log_pressure(kelvin, _ICE), _log_pressure(kelvin, _WATER)) - wanted
        step = miss / np.where(over_ice, _slope(kelvin, _ICE), _slope(kelvin, _WATER))
        kelvin = np.maximum(kelvin - step, 120.0)
        if np.abs(step).max() < 1e-9:
            break
    found = np.minimum(kelvin - KELVIN, temp)
    return cast(Numbers, found if found.ndim else float(found))


def humidity(temp_c: Numbers, dew_c: Numbers) -> Numbers:
    """Relative humidity [%] of air at a temperature with a dew point, at most 100.

    >>> round(humidity(25.0, dew_point(25.0, 50.0)), 6)
    50.0
    """
    share = 100 * np.asarray(saturation_pressure(dew_c)) / np.asarray(saturation_pressure(temp_c))
    found = np.minimum(share, 100.0)
    return cast(Numbers, found if found.ndim else float(found))


def equilibrium_pct(temp_c: float, rh_pct: float) -> float:
    """The moisture that wood comes to in air, in percent of its dry weight.

    Parameters
    ----------
    temp_c, rh_pct : float
        The air, −20 to 60 °C and 0 to 100 %.

    References
    ----------
    Wood Handbook, USDA Forest Products Laboratory, chapter 4: the two-hydrate sorption formula, temperatures in °C.

    >>> [round(equilibrium_pct(21.1, rh), 1) for rh in (30, 50, 65, 80)]
    [6.2, 9.2, 12.0, 16.0]
    """
    between("temp_c", temp_c, -20, 60, unit="°C", name="temperature")
    between("rh_pct", rh_pct, 0, 100, unit="%", name="humidity")
    t, h = temp_c, rh_pct / 100
    weight = 349 + 1.29 * t + 0.0135 * t**2
    k = (0.805 + 0.000736 * t - 0.00000273 * t**2) * h
    one = (6.27 - 0.00938 * t - 0.000303 * t**2) * k
    both = one * (1.91 + 0.0407 * t - 0.000293 * t**2) * k
    return 1800 / weight * (k / (1 - k) + (one + 2 * both) / (1 + one + both))


#: What of its limits air breaks.
Limit = Literal["cold", "hot", "damp", "dew"]


def broken(
    temp_c: float,
    rh_pct: float | None = None,
    margin_k: float | None = None,
    *,
    min_c: float | None = None,
    max_c: float | None = None,
    max_rh_pct: float | None = None,
) -> tuple[Limit, ...]:
    """Which limits of a product air breaks [°C, %], the dew margin among them; what is not known breaks none.

    >>> broken(9.0, 85.0, 2.4, min_c=12, max_rh_pct=80), broken(9.0)
    (('cold', 'damp', 'dew'), ())
    """
    breaks: dict[Limit, bool] = {
        "cold": min_c is not None and temp_c < min_c,
        "hot": max_c is not None and temp_c > max_c,
        "damp": max_rh_pct is not None and rh_pct is not None and rh_pct > max_rh_pct,
        "dew": margin_k is not None and margin_k < LEAST_MARGIN_K,
    }
    return tuple(limit for limit, does in breaks.items() if does)


@dataclass(frozen=True)
class Judged:
    """Whether work may go on in this air: the dew point and margin [°C], and what speaks against it."""

    dew_point_c: float
    margin_c: float
    ok: bool
    reasons: tuple[str, ...]


def judge_air(
    temp_c: float,
    rh_pct: float,
    surface_c: float | None = None,
    min_c: float | None = None,
    max_rh_pct: float | None = None,
) -> Judged:
    """Dew margin and limits for a surface in this air.

    Parameters
    ----------
    surface_c : float or None
        The part's own surface; it decides where it is known, else the part is taken to be as
        warm as the air [°C].
    min_c, max_rh_pct : float or None
        The product's limits.

    Examples
    --------
    >>> judge_air(18, 80, surface_c=16).reasons
    ('the surface is 1.5 °C above the dew point; at least 3 °C is wanted',)
    """
    between("temp_c", temp_c, -60, 100, unit="°C", name="temperature")
    between("rh_pct", rh_pct, 0, 100, unit="%", name="humidity", open_low=True)
    surface = between("surface_c", temp_c if surface_c is None else surface_c, -60, 300, unit="°C", name="surface")
    dew = dew_point(temp_c, rh_pct)
    margin = surface - dew
    found, reasons = broken(surface, rh_pct, margin, min_c=min_c, max_rh_pct=max_rh_pct), []
    if "dew" in found:
        above = f"{margin:.1f} °C above" if margin >= 0 else f"{-margin:.1f} °C below"
        reasons.append(f"the surface is {above} the dew point; at least {LEAST_MARGIN_K:g} °C is wanted")
    if min_c is not None and "cold" in found:
        what = "air" if surface_c is None else "surface"
        reasons.append(f"the {what} is {surface:g} °C, {min_c - surface:.1f} °C short of {min_c:g} °C")
    if max_rh_pct is not None and "damp" in found:
        reasons.append(f"the humidity is {rh_pct:g} %; the limit is {max_rh_pct:g} %")
    return Judged(dew, margin, not reasons, tuple(reasons))

"""Moist air and windows against a reference library, published pressures and an open weather year."""

from datetime import datetime
from pathlib import Path

import numpy as np
import psychrolib
import pvlib
import pytest

from kiteloom.core.air.moisture import dew_point, humidity, saturation_pressure
from kiteloom.core.air.profile import Profile
from kiteloom.core.air.windows import Limits, Part, straight_shots
from kiteloom.core.base.calendar import Shift, WorkingHours, minute_of, zone_of

psychrolib.SetUnitSystem(psychrolib.SI)


# Source: psychrolib (ASHRAE Handbook – Fundamentals), the whole grid of −5…40 °C and 10…100 %.
def test_dew_points_of_the_whole_grid_agree_with_the_reference_library():
    temps, humidities = np.meshgrid(np.arange(-5, 41, 1.0), np.arange(10, 101, 2.5))
    ours = dew_point(temps.ravel(), humidities.ravel())
    theirs = [
        psychrolib.GetTDewPointFromRelHum(t, rh / 100) for t, rh in zip(temps.ravel(), humidities.ravel(), strict=True)
    ]
    assert np.abs(ours - theirs).max() < 0.05
    assert np.abs(humidity(temps.ravel(), ours) - humidities.ravel()).max() < 1e-6


# Source: ASHRAE Handbook – Fundamentals, saturation pressure of water [kPa].
@pytest.mark.parametrize(("celsius", "kpa"), [(0, 0.611), (20, 2.339), (30, 4.246)])
def test_saturation_pressures(celsius, kpa):
    assert saturation_pressure(float(celsius)) == pytest.approx(kpa, abs=6e-4)


# Source: the same handbook by its library, 25 °C and 50 %.
def test_a_common_day():
    assert dew_point(25.0, 50.0) == pytest.approx(13.864, abs=5e-4)


def weather_year():
    path = Path(pvlib.__file__).parent / "data" / "723170TYA.CSV"
    table, _ = pvlib.iotools.read_tmy3(path, coerce_year=2026, map_variables=True)
    minutes = np.array([moment.timestamp() / 60 for moment in table.index])
    columns = [table[name].to_numpy(dtype=float) for name in ("temp_air", "relative_humidity", "temp_dew")]
    order = np.argsort(minutes)
    return minutes[order], *(column[order] for column in columns)


# Source: station 723170 (NREL TMY3 file inside pvlib), its own dew point column; it rounds, a few records are off.
def test_dew_points_of_a_real_year_agree_with_its_own_column():
    _, air, rh, dew = weather_year()
    # Below 0 °C the file gives the dew point over water, ASHRAE the frost point over ice.
    used = (air > 2) & (rh > 35) & (dew > 0)
    off = np.abs(dew_point(air[used], rh[used]) - dew[used])
    assert used.sum() > 6000
    assert (off < 0.3).mean() > 0.99


# Source: the same year; a clock that tries every five minutes against the windows that were computed.
@pytest.mark.parametrize("month", [2, 4, 7, 10])
def test_straight_shots_of_real_weeks_are_those_a_clock_finds_by_trying(month):
    minutes, air, rh, _ = weather_year()
    begin = minute_of(datetime(2026, month, 2, tzinfo=zone_of("UTC")))
    span = (minutes >= begin) & (minutes <= begin + 12 * 1440)
    temperature, damp = Profile(minutes[span], air[span]), Profile(minutes[span], rh[span])
    hours = WorkingHours(zone_of("America/New_York"), tuple(Shift(day, 480, 1080) for day in range(6)))
    parts = [Part("two coats", 50), Part("dry", 70, hands_on=False), Part("cloth on, heat-set", 60)]
    found = straight_shots(parts, Limits(min_c=8, max_rh_pct=75), temperature, damp, hours)
    first, last = temperature.minutes[0], temperature.minutes[-1]
    open_hours = hours.intervals(first, last)

    def fits(start):
        now = np.arange(start, start + 180.1, 0.5)
        if now[-1] > last or np.interp(now, temperature.minutes, temperature.celsius).min() < 8:
            return False
        if np.interp(now, damp.minutes, damp.celsius).max() > 75:
            return False
        works = ((start, start + 50), (start + 120, start + 180))
        return all(any(o <= a and b <= c for o, c in open_hours) for a, b in works)

    for start in np.arange(first, last - 180, 5.0):
        said = any(w.start <= start <= w.latest_start for w in found)
        near = any(min(abs(start - w.start), abs(start - w.latest_start)) < 1 for w in found)
        assert said == fits(start) or near, start
    assert all(window.end == window.latest_start + 180 for window in found)

"""An iron's dial against a thermometer, in the core: the line asked the other way round, and what is questioned."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import linregress

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.iron import Read, calibrated, dial_words, sole

READ = st.lists(st.tuples(st.floats(0, 10), st.floats(-3, 3)), min_size=2, max_size=9)


@given(READ, st.floats(5, 30), st.floats(40, 90))
def test_the_dial_of_a_temperature_is_the_line_asked_the_other_way_round(rows, slope, start):
    """Against SciPy's regression."""
    readings = [Read(dial, start + slope * dial + off) for dial, off in rows if 20 <= start + slope * dial + off <= 300]
    if len({row.dial for row in readings}) < 2 or np.ptp([row.dial for row in readings]) < 1:
        return
    line = linregress([row.dial for row in readings], [row.celsius for row in readings])
    if line.slope <= 0:
        with pytest.raises(Refused, match="the colder it was read"):
            calibrated(readings)
        return
    found = calibrated(readings)
    assert found.dial(150) == pytest.approx((150 - line.intercept) / line.slope, rel=1e-6, abs=1e-6)
    assert found.off_k == pytest.approx(max(abs(r.celsius - line.intercept - line.slope * r.dial) for r in readings))


def test_what_is_old_scattered_or_beyond_what_was_read_is_questioned():
    good = calibrated([Read(2, 100), Read(3, 130), Read(4, 160)])
    assert dial_words(good, 145, 3, "metric") == "dial 3.5"
    assert dial_words(good, 145, 31, "us").endswith("calibrated 31 days ago: read it again first")
    assert "beyond the 212 °F it was read to" in dial_words(good, 90, 3, "us")
    scattered = calibrated([Read(2, 100), Read(3, 160), Read(4, 160)])
    assert "its readings scatter by" in dial_words(scattered, 130, 0, "metric")
    for few in ([], [Read(3, 100)], [Read(3, 100), Read(3, 110)]):
        with pytest.raises(Refused, match="at two places of the dial at least"):
            calibrated(few)
    with pytest.raises(Refused, match=r"the iron is 400\.0 °C; it is read from 20\.0 °C to 300\.0 °C"):
        Read(9, 400)
    with pytest.raises(Refused, match="the iron is 10 °F; it is read from 68 °F"):
        sole(-12, "us")

"""What somebody who means harm, or a tablet that has lost its mind, sends: each once broke something."""

from __future__ import annotations

import math

from hypothesis import strategies as st

#: In the place of any value.
HOSTILE = (
    "\ud800",
    "\x00",
    "a:b",
    "../../etc/passwd",
    "9000 years",
    "1a" + 4000 * " " + "+",
    "1" + 400 * "0" + "/1",
    "²:00",
    5000 * "9" + ":00",
    "turn/²/up",
    "turn/99999999999999999999/up",
    "0001-01-01T00:00",
    "9999-12-31T23:59:59",
    "=cmd|' /C calc'!A0",
    5_000 * "x",
    99999999999999999999,
    -99999999999999999999,
    1e308,
    {"a": 2000 * [{}]},
    list(range(3000)),
)
ODD = st.one_of(
    st.sampled_from([None, "", "3 1/2 in", "3,5", [], {}, True, -1, 0, 1e-300, 1e300, 10**400, math.inf, math.nan]),
    st.sampled_from(HOSTILE),
    st.floats(allow_nan=True),
    st.integers(),
    st.text(max_size=8),
)
#: In the place of a name in a path, or of a value in a query.
IN_PATHS = ("99999999999999999999", "²", "a:b", "%00", 300 * "a", "..%2f..%2fetc%2fpasswd", "%ed%a0%80", "-1", "nan")

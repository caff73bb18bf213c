"""Published job shops, as the endpoint takes them."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

#: One unit of these problems [min].
UNIT = 5.0


@dataclass(frozen=True)
class JobShop:
    """For each job its machines in order and how long it is on each; and the best end there is."""

    name: str
    best: int
    rows: tuple[tuple[tuple[int, int], ...], ...]

    @property
    def asked(self):
        """As the schedule endpoint takes it: machines are stations, a unit is five minutes, the shop never closes."""
        steps = [
            {"id": f"{n}.{i}", "minutes": UNIT * length, "stations": [f"m{machine}"],
             "after": [{"step": f"{n}.{i - 1}"}] if i else []}
            for n, row in enumerate(self.rows) for i, (machine, length) in enumerate(row)
        ]  # fmt: skip
        hours = [{"weekday": day, "from": "00:00", "to": "24:00"} for day in range(7)]
        return {
            "start": "2026-05-14T00:00", "calendar": {"hours": hours}, "temperature": [], "steps": steps,
            "crew": [{"id": f"p{n}"} for n in range(len(self.rows))],
            "stations": [{"id": f"m{machine}"} for machine in range(len(self.rows[0]))],
        }  # fmt: skip


def job_shops():
    """All of them by name."""
    found = {}
    for block in (Path(__file__).parent / "data/job-shops.txt").read_text().strip().split("\n\n"):
        head, *rows = block.split("\n")
        name, best = head.split()
        read = [[int(n) for n in row.split()] for row in rows]
        found[name] = JobShop(name, int(best), tuple(tuple(zip(r[::2], r[1::2], strict=True)) for r in read))
    return found

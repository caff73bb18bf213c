"""Speeds and sizes, printed: ``make bench``. Nothing here fails; read the figures and compare.

Machines are noisy: figures are medians of many runs, with the range beside them.
"""

from __future__ import annotations

import gzip
import statistics
import tempfile
import time
from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path

import numpy as np

from kiteloom.api import PAGES
from kiteloom.core.climate import Profile
from kiteloom.core.cure import CureSystem, Stage, cure_times
from kiteloom.demo import reedling
from tests.api.test_contract import BY_VOLUME, CURE, EPOXY, GLASS
from tests.browser.running import RunningShop, chromium
from tests.conftest import MORNING, Shop


def measured(name: str, work: Callable[[], object], runs: int = 40) -> None:
    work()
    took = []
    for _ in range(runs):
        began = time.perf_counter()
        work()
        took.append(1000 * (time.perf_counter() - began))
    print(f"  {name:<44}{statistics.median(took):8.1f} ms   ({min(took):.1f} to {max(took):.1f})")


def calculations(shop: Shop) -> None:
    print("Calculation endpoints, a request through the whole application (wanted: under 20 ms)")
    week = [
        {"at": (datetime(2026, 5, 14) + timedelta(minutes=30 * n)).isoformat(), "c": 15 + 5 * np.sin(n / 7.6)}  # noqa: DTZ001
        for n in range(336)
    ]
    upper = [[x, 0.3 * x**0.5 * (1 - x)] for x in np.linspace(0, 1, 60).tolist()]
    wing = {"span_m": 7.2, "root_chord_m": 1.12, "tip_chord_m": 0.62, "sweep_m": 0.12}
    bodies = {
        "mix": {"system": BY_VOLUME, "total_ml": 300},
        "mix-check": {"system": EPOXY, "resin_g": 250, "hardener_g": 80},
        "activation": {"points": [{"c": c, "hours": h} for c, h in ((15, 18), (20, 12), (30, 6))]},
        "cure": {
            "system": {**CURE, "activation_energy_band_kj_mol": 5},
            "start": "2026-05-14T09:00",
            "temperature": week,
            "temperature_band_c": 2,
        },
        "surface": {
            "planform": wing,
            "section": {"upper": upper, "lower": [[x, -y / 2] for x, y in upper]},
            "tip_section": {"naca": "4412"},
        },
        "laminate": {
            "plies": [{**GLASS, "angle_deg": angle} for angle in (45, 0, -45, 90, 90, -45, 0, 45)],
            "resin_density_g_cm3": 1.15,
        },
    }
    for name, body in bodies.items():
        measured(name, lambda name=name, body=body: shop.ask("POST", f"/calc/{name}", body))


def screens(shop: Shop) -> None:
    print("What each screen asks for")
    surface = shop.surface("Left wing, upper skin")
    paths = ["/now?since=0", "/weather", "/airframe"]
    for path in [*paths, *(f"/surfaces/{surface}{tab}" for tab in ("/shape", "/plies", "/mix", "/times"))]:
        measured(path.replace(surface, "…"), lambda path=path: shop.get(path), runs=20)


def core() -> None:
    print("Core")
    system = CureSystem(55, 23, (Stage("gel", 4), Stage("peel", 12)), min_c=10)
    minutes = np.arange(0, 365 * 1440.0)
    year = Profile(minutes, 14 + 8 * np.sin(minutes / 83_000) + 4 * np.sin(minutes / 229))
    measured("a cure in a year of one-minute readings", lambda: cure_times(system, 100_000, year))


def first_load() -> None:
    print("First load, script and styles compressed (wanted: under 200 kB of script)")
    with tempfile.TemporaryDirectory() as folder, chromium() as browser:
        shop = RunningShop(Path(folder) / "demo")
        print(f"  {'first start, seeding the demo':<44}{shop.start():8.2f} s")
        shop.stop()
        print(f"  {'second start (wanted: under 5 s)':<44}{shop.start():8.2f} s")
        try:
            ready, loaded = [], set()
            for _ in range(7):
                context = browser.new_context(viewport={"width": 1280, "height": 800})  # an empty cache
                page = context.new_page()
                page.on("response", lambda answer: loaded.add(answer.url))
                began = time.perf_counter()
                page.goto(shop.url, wait_until="commit")
                page.get_by_role("heading", name="Reedling").wait_for()
                ready.append(time.perf_counter() - began)
                context.close()
            sizes = {"js": 0, "css": 0}
            for url in loaded:
                kind = url.rsplit(".", 1)[-1]
                if kind in sizes:
                    file = PAGES / "assets" / url.rsplit("/", 1)[-1]
                    sizes[kind] += len(gzip.compress(file.read_bytes(), 9))
            for kind, size in sizes.items():
                print(f"  {kind:<44}{size / 1000:8.1f} kB")
            name = "until the first screen can be read"
            print(f"  {name:<44}{statistics.median(ready):8.2f} s    ({min(ready):.2f} to {max(ready):.2f})")
        finally:
            shop.stop()


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        shop = Shop(Path(folder) / "shop")
        reedling.seed(shop.store, MORNING)
        calculations(shop)
        screens(shop)
    core()
    first_load()


if __name__ == "__main__":
    main()

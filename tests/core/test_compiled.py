"""The placer compiled and as it stands: the same plan to the minute; what is compiled of other source is not used."""

import gc
import json
import os
import pickle
import subprocess
import sys
from pathlib import Path

import pytest
from tests.core.airframe import airframe
from tests.core.jobs import VIENNA

from kiteloom import cli, compiled
from kiteloom.core.air.profile import day_curve
from kiteloom.core.base.calendar import local_midnight
from kiteloom.core.plan import search
from kiteloom.core.plan.place import Placings, place

#: A spring in which nights are too cold for much of the work.
START = 29_646_000.0


def placed():
    """Where every step of an airframe goes, who does it, what held it, and the bound; then in the other order."""
    job = airframe(120, START, day_curve(9, 21, local_midnight(START, VIENNA), 200), overnight=True)
    plan = place(job)
    rows = [
        [p.step.key, p.start, p.end, p.ready, list(p.people), [[b.kind, b.of, b.by] for b in p.causes]]
        for p in plan.placed
    ]
    other = Placings(job, plan.bound)([*reversed(plan.order)], False)
    left = [[one.step.key, one.why] for one in (*plan.unplaced, *other.unplaced)]
    return [rows, plan.bound, left, [[p.step.key, p.start, p.end] for p in other.placed]]


def test_steps_come_to_another_process_as_they_are():
    steps = airframe(40, START, day_curve(9, 21, local_midnight(START, VIENNA), 200)).steps
    assert pickle.loads(pickle.dumps(steps)) == steps


@pytest.mark.skipif(not search.__file__.endswith(".so"), reason="the placer runs as it stands")
def test_compiled_and_plain_place_alike():
    asked = "from tests.core.test_compiled import *; print(json.dumps([search.__file__, placed()]))"
    plain = {**os.environ, compiled.PLAIN: "1", "PYTHONPATH": str(Path(__file__).parents[2])}
    said = subprocess.run([sys.executable, "-c", asked], env=plain, capture_output=True, text=True, check=True).stdout
    file, theirs = json.loads(said)
    assert Path(file).suffix == ".py"
    assert json.loads(json.dumps(placed())) == theirs


def test_what_was_compiled_of_other_source_is_left_alone(tmp_path, monkeypatch):
    core = tmp_path / "source" / "kiteloom" / "core"
    core.mkdir(parents=True)
    (core / "one.py").write_text("LEAST = 5\n")
    monkeypatch.setattr(compiled, "SOURCE", tmp_path / "source")
    monkeypatch.setattr(compiled, "FOLDER", tmp_path / "made")
    assert not compiled.is_current()
    (tmp_path / "made").mkdir()
    (tmp_path / "made" / "of").write_text(compiled._print())
    assert compiled.is_current()
    (core / "one.py").write_text("LEAST = 6\n")
    assert not compiled.is_current()


def test_where_nothing_can_be_compiled_the_source_runs(tmp_path, monkeypatch, capsys):
    thresholds = gc.get_threshold()
    monkeypatch.setattr(compiled, "FOLDER", tmp_path / "made")
    monkeypatch.setattr(compiled, "MODULES", ("kiteloom.core.plan.nothing",))
    assert cli.main(["compile"]) == 0
    assert "runs as it is" in capsys.readouterr().err
    assert not (tmp_path / "made").exists()
    assert gc.isenabled()
    assert gc.get_threshold() == thresholds

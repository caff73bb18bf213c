"""The placer as machine code: the same source, compiled where a C compiler is at hand.

Plans are placed, and orders searched, in little more than half the time. What was compiled is used only while it is
of the source as it stands: after an edit the source itself runs, until it is compiled again.
"""

from __future__ import annotations

import contextlib
import gc
import hashlib
import io
import os
import shutil
import sys
import tempfile
from importlib.abc import MetaPathFinder
from importlib.machinery import ModuleSpec, PathFinder
from pathlib import Path

#: What takes the time when plans are placed.
MODULES = (
    "kiteloom.core.build.step",
    "kiteloom.core.cure.progress",
    "kiteloom.core.plan.airs",
    "kiteloom.core.plan.as_free",
    "kiteloom.core.plan.cant",
    "kiteloom.core.plan.causes",
    "kiteloom.core.plan.chain",
    "kiteloom.core.plan.hands",
    "kiteloom.core.plan.in_time",
    "kiteloom.core.plan.near",
    "kiteloom.core.plan.overnight",
    "kiteloom.core.plan.place",
    "kiteloom.core.plan.placer",
    "kiteloom.core.plan.placed",
    "kiteloom.core.plan.prefix",
    "kiteloom.core.plan.queue",
    "kiteloom.core.plan.search",
    "kiteloom.core.plan.settled",
    "kiteloom.core.plan.turning",
    "kiteloom.core.plan.units",
    "kiteloom.core.plan.use",
)

#: All of them in one library, so that they call each other directly.
LIBRARY = "kiteloom_core"
SOURCE = Path(__file__).parent.parent
FOLDER = Path(sys.prefix) / "kiteloom-compiled"

#: Set, to whatever, to run the source as it stands.
PLAIN = "KITELOOM_PLAIN"


class CantCompile(Exception):
    """Why the placer could not be compiled."""


class _Compiled(MetaPathFinder):
    def find_spec(self, fullname: str, path: object, target: object = None) -> ModuleSpec | None:  # noqa: ARG002
        if fullname not in MODULES and fullname != f"{LIBRARY}__mypyc":
            return None
        return PathFinder.find_spec(fullname, [str(FOLDER.joinpath(*fullname.split(".")[:-1]))])


def use() -> None:
    """Take the compiled modules in place of their source, where they are of it."""
    if not os.environ.get(PLAIN) and is_current():
        sys.meta_path.insert(0, _Compiled())


def is_current() -> bool:
    """Whether what was compiled is of the source as it stands."""
    try:
        return (FOLDER / "of").read_text() == _print()
    except OSError:
        return False


def compile_all() -> None:
    """Compile the modules; takes the better part of a minute.

    Raises
    ------
    CantCompile
        Where there is no compiler, or it can't.
    """
    try:
        from mypyc.build import mypycify
        from setuptools import setup
    except ImportError as missing:
        raise CantCompile(f"{missing.name} is not installed") from missing
    stands, here, said = _print(), Path.cwd(), io.StringIO()
    # The compiler turns the collection of garbage off, and leaves it so.
    collects, thresholds = gc.isenabled(), gc.get_threshold()
    paths = [str(Path(*name.split(".")).with_suffix(".py")) for name in MODULES]
    try:
        with tempfile.TemporaryDirectory(dir=FOLDER.parent) as folder, contextlib.redirect_stdout(said):
            os.chdir(SOURCE)
            made = Path(folder, "made")
            modules = mypycify(
                ["--ignore-missing-imports", "--cache-dir", os.devnull, *paths],
                opt_level="2",
                debug_level="0",
                group_name=LIBRARY,
                target_dir=str(Path(folder, "c")),
            )
            setup(
                name=LIBRARY,
                ext_modules=modules,
                script_args=["--quiet", "build_ext", "--build-lib", str(made), "--build-temp", str(Path(folder, "o"))],
            )
            (made / "of").write_text(stands)
            shutil.rmtree(FOLDER, ignore_errors=True)
            made.rename(FOLDER)
    except (SystemExit, OSError) as cant:
        raise CantCompile(f"{said.getvalue()}{cant}".strip()) from cant
    finally:
        os.chdir(here)
        gc.set_threshold(*thresholds)
        (gc.enable if collects else gc.disable)()


def _print() -> str:
    """What the core's source and the Python it runs in are known by: compiled code trusts the types of both."""
    found = hashlib.sha256(f"{sys.version} {MODULES}".encode())
    for path in sorted((SOURCE / "kiteloom" / "core").rglob("*.py")):
        found.update(path.read_bytes())
    return found.hexdigest()

"""A shop with the Reedling on a May morning, reached through its API."""

from __future__ import annotations

import fcntl
import json
import os
import shutil
from datetime import datetime
from uuid import NAMESPACE_URL, uuid5
from zoneinfo import ZoneInfo

import pytest
from hypothesis import settings

from kiteloom.api import application, open_on
from kiteloom.demo import reedling
from kiteloom.store.models import Part

# The same examples on every machine; HYPOTHESIS_PROFILE=search looks for new ones.
settings.register_profile("steady", derandomize=True, deadline=None)
settings.register_profile("search", deadline=None)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "steady"))

JSON = "application/json"
MORNING = datetime(2026, 5, 14, 9, 20, tzinfo=ZoneInfo("Europe/Vienna"))


def key_of(*names: str) -> str:
    """An id as a page makes them, the same each time."""
    return str(uuid5(NAMESPACE_URL, "/".join(names)))


class StandingClock:
    """A clock that stands until it is moved."""

    def __init__(self, at: datetime) -> None:
        self.at = at

    def now(self) -> datetime:
        return self.at


class Shop:
    """The application on a data folder, with short words for what tests ask of it."""

    def __init__(self, folder) -> None:
        self.folder, self.clock = folder, StandingClock(MORNING)
        self.app = self.free.pop() if self.free else application()
        self.open()

    #: Applications nobody uses any more: their routes need not be made again.
    free = []  # noqa: RUF012

    def open(self) -> None:
        open_on(self.app, self.folder, self.clock)
        self.store = self.app.extensions["kiteloom.store"]
        self.client = self.app.test_client()

    def close(self) -> None:
        """Let go of the folder, and of the application for the next one."""
        self.app.extensions["kiteloom.worker"].close()
        self.store.close()
        self.free.append(self.app)

    def reopen(self) -> None:
        self.app.extensions["kiteloom.worker"].close()
        self.store.close()
        self.open()

    def ask(self, method: str, path: str, body: dict | None = None, status: int | None = 200) -> dict:
        sent = {} if method == "GET" else {"data": json.dumps(body) if body is not None else "", "content_type": JSON}
        answer = self.client.open(f"/api/v1{path}", method=method, **sent)
        if status is not None:
            assert answer.status_code == status, answer.text
        return answer.json

    def get(self, path: str) -> dict:
        return self.ask("GET", path)

    def refused(self, method: str, path: str, body: dict) -> dict:
        """The problem of a request that must be refused; nothing else may change."""
        before = self.get("/now?since=-1")["seq"]
        problem = self.ask(method, path, body, status=422)
        assert self.get("/now?since=-1")["seq"] == before
        return problem

    def release(self, part: str, step: str = "skin-1/layup") -> dict:
        """Somebody signs for every witness of a step."""
        who = self.get("/bench")["crew"][0]["id"]
        signed = {"how": "decision", "passes": True, "crew_member_id": who, "note": "all pressed, all hard"}
        body = {"id": key_of("release", part, step), "part_id": part, "step_key": step, **signed}
        return self.ask("POST", "/witness", body, 201)

    def version(self, part: str, job: str = "") -> int:
        """The version of one of a part's jobs, as its form has it."""
        return self.get(f"/parts/{part}/job?job={job}")["version"]

    def part(self, name: str) -> str:
        with self.store.reading() as uow:
            return next(part.id for part in uow.all(Part) if part.name == name)


def pytest_collection_modifyitems(items):
    """The slowest first, so that no process is left with them at the end."""
    items.sort(key=lambda item: ("browser" not in item.nodeid, "reference" not in item.nodeid))


@pytest.fixture(scope="session")
def bare_folder(tmp_path_factory):
    """A folder as a first start makes it."""
    folder = tmp_path_factory.mktemp("bare") / "shop"
    Shop(folder).close()
    return folder


@pytest.fixture
def empty_shop(bare_folder, tmp_path):
    shutil.copytree(bare_folder, tmp_path / "shop")
    shop = Shop(tmp_path / "shop")
    yield shop
    shop.close()


def once_for_all(factory, name, **seeded):
    """A folder with the demo in it, seeded by the first process of a run that wants it and copied for each test."""
    base = factory.getbasetemp()
    base = base.parent if "PYTEST_XDIST_WORKER" in os.environ else base
    with open(base / f"{name}.lock", "w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not (base / name).exists():
            shop = Shop(base / f"{name}-half")
            reedling.seed(shop.store, MORNING, **seeded)
            shop.close()
            (base / f"{name}-half").rename(base / name)
    return base / name


@pytest.fixture(scope="session")
def seeded(tmp_path_factory):
    """A folder with the demo in it."""
    return once_for_all(tmp_path_factory, "seeded")


@pytest.fixture(scope="session")
def whole_folder(tmp_path_factory):
    """A folder with the demo and all its parts in it."""
    return once_for_all(tmp_path_factory, "all-parts", whole=True)


@pytest.fixture
def shop(seeded, tmp_path):
    shutil.copytree(seeded, tmp_path / "shop")
    shop = Shop(tmp_path / "shop")
    yield shop
    shop.close()


@pytest.fixture
def left_upper(shop):
    return shop.part("Left wing, upper skin")


@pytest.fixture(scope="module")
def whole(whole_folder, tmp_path_factory):
    """The demo with all its parts, one for all tests of a module: they tell it no more than they need."""
    shop = Shop(shutil.copytree(whole_folder, tmp_path_factory.mktemp("whole") / "shop"))
    yield shop
    shop.close()

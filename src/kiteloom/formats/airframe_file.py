"""An airframe as one JSON file: shapes, designs with their jobs, parts, links, and the data sheets they use.

What it holds stands in ``docs/formats/airframe.md``; ``docs/formats/airframe.schema.json`` is made from this module.
"""

from __future__ import annotations

import json
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from kiteloom.core.base.problems import Refused

MARK = "kite loom airframe"
#: What is written, and the newest that is read: from 2 on ply books have zones and stages, from 3 on there are hinges,
#: arms that were typed, limits, and what else is carried, from 4 on what joints tie.
VERSION = 4
#: From this version on a file says all that weight and balance rest on.
WEIGHED = 3
#: From this version on it says what joints tie.
JOINED = 4
Id = Annotated[str, Field(min_length=1, max_length=64, pattern=r"^[A-Za-z0-9 ._-]+$")]
Name = Annotated[str, Field(min_length=1, max_length=120)]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", strict=True)


class SheetRef(_Strict):
    """A data sheet by its kind and name."""

    kind: Name
    name: Name


class Sheet(SheetRef):
    """A data sheet that comes along: what its maker says, as data sheets are kept."""

    says: dict[str, Any]


class FileShape(_Strict):
    """A shape: its kind, and what it says as shapes are kept."""

    id: Id
    name: Name
    kind: Literal["loft", "outline", "strips", "pieces"]
    says: dict[str, Any]


class FilePly(_Strict):
    """A ply: its cloth by name, its angle on the left-hand part [°], the zone it lies in, and when it is laid."""

    cloth: Name
    angle_deg: float
    zone: Annotated[str, Field(max_length=60)] = ""
    stage: Annotated[int, Field(ge=1, le=9)] = 1


class FileJob(_Strict):
    """One way of building; its rank stands among all jobs of a part, its design's and its own."""

    key: Annotated[str, Field(max_length=64)]
    recipe: Name
    rank: Annotated[int, Field(ge=0, le=10_000)] = 0
    given: dict[str, Any] = {}
    products: dict[str, SheetRef] = {}
    plies: list[FilePly] = []
    core: Name | None = None
    core_after: Annotated[int, Field(ge=0)] = 0
    core_zone: Annotated[str, Field(max_length=60)] = ""
    zones: Annotated[list[dict[str, Any]], Field(max_length=40)] = []
    losses: dict[str, Any] = {}
    step_edits: dict[str, Any] = {}


class FileDesign(_Strict):
    """What left and right share: a shape, the side that is built, where it hinges, and jobs in order."""

    id: Id
    name: Name
    shape: Id | None = None
    side: Literal["upper", "lower", "whole"]
    hinge: dict[str, Any] = {}
    jobs: list[FileJob] = []


class FileAssembly(_Strict):
    """Parts that belong together."""

    id: Id
    name: Name


class FileLink(_Strict):
    """A part that is built before a step of another, by the step's key."""

    part: Id
    step: Name


class FilePart(_Strict):
    """A physical part; ``place`` is where it lies on the airframe, ``jobs`` are its own besides its design's.

    ``arm_m`` is how far aft of the nose its middle lies, where that was typed [m].
    """

    id: Id
    name: Name
    assembly: Id
    design: Id
    hand: Literal["left", "right", "centre"]
    thing: Annotated[str, Field(max_length=60)] = ""
    place: dict[str, Any] = {}
    arm_m: float | None = None
    jobs: list[FileJob] = []
    after: list[FileLink] = []


class FileFace(_Strict):
    """One face of a joint: the part it is of, where on it, and whether the joint fixes that part."""

    part: Id
    where: Annotated[str, Field(max_length=80)] = ""
    fixes: bool = True


class FileJoint(_Strict):
    """What a part of kind joint ties; parts that must be loose or located, joints before it, its row of fasteners."""

    part: Id
    faces: Annotated[list[FileFace], Field(min_length=2, max_length=2)]
    loose: list[Id] = []
    located: list[Id] = []
    after: list[Id] = []
    shuts: list[Id] = []
    fasteners: dict[str, Any] = {}


class FileItem(_Strict):
    """Something carried that is no part: what it weighs [g], and how far aft of the nose it lies [m]."""

    id: Id
    name: Name
    grams: float
    aft_m: float
    load: bool = False


class AirframeFile(_Strict):
    """A whole airframe. Lists stand in the order of the work."""

    format: Literal["kite loom airframe"] = MARK  # type: ignore[assignment]
    version: int = VERSION
    id: Id
    name: Name
    limits: dict[str, Any] = {}
    carried: Annotated[list[FileItem], Field(max_length=300)] = []
    sheets: Annotated[list[Sheet], Field(max_length=2000)] = []
    shapes: Annotated[list[FileShape], Field(max_length=2000)] = []
    designs: Annotated[list[FileDesign], Field(max_length=2000)] = []
    assemblies: Annotated[list[FileAssembly], Field(max_length=500)] = []
    parts: Annotated[list[FilePart], Field(max_length=2000)] = []
    joints: Annotated[list[FileJoint], Field(max_length=200)] = []


def write_airframe(doc: AirframeFile) -> str:
    """The file's text: the same for the same airframe."""
    return json.dumps(doc.model_dump(mode="json"), ensure_ascii=False, indent=1) + "\n"


def _no_number(said: str) -> float:
    raise Refused("file", f"the file says {said} where a number is wanted")


def read_airframe(text: str) -> AirframeFile:
    """A file read; `Refused` says where it is not one."""
    try:
        found = json.loads(text, parse_constant=_no_number)
    except json.JSONDecodeError as error:
        raise Refused(
            "file", f"the file is no JSON, or cut off: {error.msg.lower()} in line {error.lineno}, column {error.colno}"
        ) from None
    except RecursionError:
        raise Refused("file", "the file's lists lie too deep in one another") from None
    if not isinstance(found, dict) or found.get("format") != MARK:
        raise Refused("file", f"the file is no airframe: its “format” is not “{MARK}”")
    version = found.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise Refused("file", f"the file's version is {str(version)[:20]}; it is a whole number from 1 on")
    if version > VERSION:
        raise Refused(
            "file",
            f"the file was written by a newer Kite Loom (version {version}); this program reads up to {VERSION}. "
            "Take the newer program, or let the other shop write the older version",
        )
    try:
        return AirframeFile.model_validate(found)
    except ValidationError as wrong:
        first = wrong.errors()[0]
        where = ".".join(str(part) for part in first["loc"]) or "the file"
        given = str(first.get("input"))[:40]
        more = f"; and {wrong.error_count() - 1} more" if wrong.error_count() > 1 else ""
        raise Refused("file", f"{where}: {first['msg'].lower()} (it says “{given}”){more}") from None


def airframe_schema() -> dict[str, Any]:
    """The JSON Schema of the file."""
    schema = AirframeFile.model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **schema}

"""The facts of a part as they are kept, and a digest over them: a fact that was changed shows."""

from __future__ import annotations

import json
from collections.abc import Mapping
from datetime import date, datetime
from hashlib import sha256
from typing import Any

from sqlalchemy import Table, select

from kiteloom.store.models import Base, Fact, Written
from kiteloom.store.unit_of_work import UnitOfWork

#: A digest of nothing: what the first page is chained to.
NOTHING = sha256(b"").hexdigest()


def tables_of_parts() -> list[tuple[Table, tuple[str, ...]]]:
    """The tables of what happened to parts, each after those its rows name; and the columns that name a row of them.

    A row names its part, or a row that does; what was taken back is named by its id alone.
    """
    facts = {mapper.local_table for mapper in Base.registry.mappers if issubclass(mapper.class_, Fact)}
    found: list[tuple[Table, tuple[str, ...]]] = []
    for table in sorted((t for t in Base.metadata.sorted_tables if t in facts), key=lambda t: "of_id" in t.columns):
        known = {one for one, _ in found}
        named = [key.parent.name for key in table.foreign_keys if key.column.table in known]
        named += ["of_id"] if "of_id" in table.columns else []
        if "part_id" in table.columns or named:
            found.append((table, tuple(sorted(named))))
    return found


def facts_by_part(uow: UnitOfWork, since: datetime, until: datetime) -> Mapping[str, list[dict[str, Any]]]:
    """Every fact of each part that happened from a moment until before another, as it is kept.

    A fact belongs to the part it names, else to that of the fact it names: a decision to that of its deviation. Where
    people sign in, ``written_by`` is whose hand it is in.
    """
    owner: dict[str, str] = {}
    hands = {(row.table, row.ref): row.crew_member_id or row.guest_id for row in uow.all(Written)}
    found: dict[str, list[dict[str, Any]]] = {}
    for table, named in tables_of_parts():
        own = [table.c.part_id] if "part_id" in table.columns else []
        for key, *others in uow.session.execute(select(table.c.id, *own, *(table.c[name] for name in named))):
            part = others[0] if own and others[0] else next((owner[one] for one in others if one in owner), None)
            if part is not None:
                owner[key] = part
        rows = select(table).where(table.c.happened_at >= since, table.c.happened_at < until)
        for row in uow.session.execute(rows.order_by(table.c.recorded_at, table.c.id)).mappings():
            if row["id"] in owner:
                hand = hands.get((table.name, row["id"]))
                known = {"table": table.name, **row, **({"written_by": hand} if hand else {})}
                found.setdefault(owner[row["id"]], []).append(known)
    return found


def digest(facts: list[dict[str, Any]], before: str) -> str:
    """The SHA-256 of facts, chained to the digest before them: facts as JSON, keys in order, bytes by their digest.

    >>> digest([{"a": 1}], NOTHING) == digest([{"a": 1}], NOTHING)
    True
    >>> digest([{"a": 1}], NOTHING) == digest([{"a": 2}], NOTHING)
    False
    """
    text = json.dumps(facts, sort_keys=True, ensure_ascii=False, separators=(",", ":"), default=_plain)
    return sha256(f"{before}\n{text}".encode()).hexdigest()


def _plain(value: object) -> str:
    if isinstance(value, bytes):
        return sha256(value).hexdigest()
    assert isinstance(value, (date, datetime)), f"{type(value)} is in no row"
    return value.isoformat()

"""The twist of a panel is a check like others; a check may be read at each of several steps.

What was read of a twist until now had no nominal: it is asked to stay as it was read first.

Revision ID: 0028
Revises: 0027
"""

import json
from uuid import NAMESPACE_URL, uuid5

import sqlalchemy as sa
from alembic import op

revision = '0028'
down_revision = '0027'
branch_labels = None
depends_on = None

FACT = "happened_at DATETIME NOT NULL, recorded_at DATETIME NOT NULL"
COLUMNS = 'id, part_id, check_id, moment, "values", crew_member_id, note, happened_at, recorded_at'


def upgrade() -> None:
    for change in ("update", "delete"):
        op.execute(f"DROP TRIGGER measured_no_{change}")
    op.execute(
        f"CREATE TABLE new_measured (id VARCHAR(36) NOT NULL, part_id VARCHAR NOT NULL, check_id VARCHAR NOT NULL, "
        f"moment VARCHAR NOT NULL, \"values\" JSON NOT NULL, crew_member_id VARCHAR, note VARCHAR NOT NULL, {FACT}, "
        "CONSTRAINT pk_measured PRIMARY KEY (id), "
        "CONSTRAINT ck_measured_moment CHECK (moment IN ('once','before','between','after')), "
        "CONSTRAINT fk_measured_part_id FOREIGN KEY(part_id) REFERENCES part (id), "
        "CONSTRAINT fk_measured_check_id FOREIGN KEY(check_id) REFERENCES part_check (id), "
        "CONSTRAINT fk_measured_crew_member_id FOREIGN KEY(crew_member_id) REFERENCES crew_member (id))"
    )
    op.execute(f"INSERT INTO new_measured ({COLUMNS}) SELECT {COLUMNS} FROM measured ORDER BY rowid")
    op.execute("DROP TABLE measured")
    op.execute("ALTER TABLE new_measured RENAME TO measured")
    for column in ("part_id", "check_id", "happened_at"):
        op.execute(f"CREATE INDEX ix_measured_{column} ON measured ({column})")
    op.execute(
        "CREATE TABLE new_part_check (id VARCHAR(36) NOT NULL, design_id VARCHAR NOT NULL, name VARCHAR NOT NULL, "
        "kind VARCHAR NOT NULL, points JSON NOT NULL, low DOUBLE NOT NULL, high DOUBLE NOT NULL, "
        "after_key VARCHAR NOT NULL, reads VARCHAR NOT NULL, hidden_at DATETIME, version INTEGER NOT NULL, "
        "updated_at DATETIME NOT NULL, CONSTRAINT pk_part_check PRIMARY KEY (id), "
        "CONSTRAINT ck_part_check_reads CHECK (reads IN ('once','twice','each')), "
        "CONSTRAINT fk_part_check_design_id FOREIGN KEY(design_id) REFERENCES design (id))"
    )
    op.execute(
        "INSERT INTO new_part_check SELECT id, design_id, name, kind, points, low, high, after_key, "
        "CASE WHEN twice THEN 'twice' ELSE 'once' END, hidden_at, version, updated_at FROM part_check"
    )
    op.execute("DROP TABLE part_check")
    op.execute("ALTER TABLE new_part_check RENAME TO part_check")
    op.execute("CREATE INDEX ix_part_check_design_id ON part_check (design_id)")
    _twists_moved()
    op.execute("DROP TABLE reading")
    for change in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER measured_no_{change.lower()} BEFORE {change} ON measured "
            "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
        )


def _twists_moved() -> None:
    here = op.get_bind()
    undone = {key for (key,) in here.execute(sa.text("SELECT undoes_id FROM work WHERE undoes_id IS NOT NULL"))}
    rows = here.execute(sa.text(
        "SELECT reading.id, part_id, step_key, found, note, happened_at, recorded_at, design_id "
        "FROM reading JOIN part ON part.id = part_id ORDER BY reading.recorded_at, reading.rowid"
    )).all()  # fmt: skip
    known = set()
    # Those that count come first: what is asked is what the first of them found.
    rows = sorted(rows, key=lambda row: row[0] in undone)
    for key, part_id, step_key, found, note, happened, recorded, design_id in rows:
        job, _, moment = step_key.rpartition("twist/")
        moment = moment if moment in ("before", "between", "after") else "once"
        first = f"{job}twist/before"
        check = str(uuid5(NAMESPACE_URL, f"kiteloom:check/{design_id}/{first}"))
        if check not in known:
            known.add(check)
            points = json.dumps([{"name": "tip against root", "nominal": found, "at_m": None}])
            here.execute(sa.text(
                "INSERT INTO part_check (id, design_id, name, kind, points, low, high, after_key, reads, version, "
                "updated_at) VALUES (:id, :design, 'Twist of the panel', 'angle', :points, -0.25, 0.25, :first, 'each', "
                "1, :at)"), {"id": check, "design": design_id, "points": points, "first": first, "at": recorded})  # fmt: skip
        here.execute(sa.text(
            "INSERT INTO measured (id, part_id, check_id, moment, \"values\", note, happened_at, recorded_at) "
            "VALUES (:id, :part, :check, :moment, :values, :note, :happened, :recorded)"),
            {"id": key, "part": part_id, "check": check, "moment": moment, "values": json.dumps([found]), "note": note,
             "happened": happened, "recorded": recorded})  # fmt: skip
        if key in undone:
            here.execute(sa.text(
                "INSERT INTO taken_back (id, what, of_id, note, happened_at, recorded_at) "
                "VALUES (:id, 'measured', :id, 'its step was taken back', :at, :at)"), {"id": key, "at": recorded})  # fmt: skip


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

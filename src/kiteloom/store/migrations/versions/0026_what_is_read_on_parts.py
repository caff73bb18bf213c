"""Checks with nominal and tolerance, what they found, and what was decided.

Revision ID: 0026
Revises: 0025
"""

from alembic import op

revision = '0026'
down_revision = '0025'
branch_labels = None
depends_on = None

FACT = "happened_at DATETIME NOT NULL, recorded_at DATETIME NOT NULL"


def upgrade() -> None:
    op.execute(
        "CREATE TABLE part_check (id VARCHAR(36) NOT NULL, design_id VARCHAR NOT NULL, name VARCHAR NOT NULL, "
        "kind VARCHAR NOT NULL, points JSON NOT NULL, low DOUBLE NOT NULL, high DOUBLE NOT NULL, "
        "after_key VARCHAR NOT NULL, twice BOOLEAN NOT NULL, hidden_at DATETIME, version INTEGER NOT NULL, "
        "updated_at DATETIME NOT NULL, CONSTRAINT pk_part_check PRIMARY KEY (id), "
        "CONSTRAINT fk_part_check_design_id FOREIGN KEY(design_id) REFERENCES design (id))"
    )
    op.execute("CREATE INDEX ix_part_check_design_id ON part_check (design_id)")
    op.execute(
        f"CREATE TABLE measured (id VARCHAR(36) NOT NULL, part_id VARCHAR NOT NULL, check_id VARCHAR NOT NULL, "
        f"moment VARCHAR NOT NULL, \"values\" JSON NOT NULL, crew_member_id VARCHAR, note VARCHAR NOT NULL, {FACT}, "
        "CONSTRAINT pk_measured PRIMARY KEY (id), "
        "CONSTRAINT ck_measured_moment CHECK (moment IN ('once','before','after')), "
        "CONSTRAINT fk_measured_part_id FOREIGN KEY(part_id) REFERENCES part (id), "
        "CONSTRAINT fk_measured_check_id FOREIGN KEY(check_id) REFERENCES part_check (id), "
        "CONSTRAINT fk_measured_crew_member_id FOREIGN KEY(crew_member_id) REFERENCES crew_member (id))"
    )
    op.execute(
        f"CREATE TABLE judgement (id VARCHAR(36) NOT NULL, measured_id VARCHAR NOT NULL, kind VARCHAR NOT NULL, "
        f"note VARCHAR NOT NULL, crew_member_id VARCHAR NOT NULL, {FACT}, "
        "CONSTRAINT pk_judgement PRIMARY KEY (id), "
        "CONSTRAINT ck_judgement_kind CHECK (kind IN ('accept','mend','redo')), "
        "CONSTRAINT fk_judgement_measured_id FOREIGN KEY(measured_id) REFERENCES measured (id), "
        "CONSTRAINT fk_judgement_crew_member_id FOREIGN KEY(crew_member_id) REFERENCES crew_member (id))"
    )
    for table, column in (("measured", "part_id"), ("measured", "check_id"), ("judgement", "measured_id")):
        op.execute(f"CREATE INDEX ix_{table}_{column} ON {table} ({column})")
    for table in ("measured", "judgement"):
        op.execute(f"CREATE INDEX ix_{table}_happened_at ON {table} (happened_at)")
        for change in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{change.lower()} BEFORE {change} ON {table} "
                "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
            )


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

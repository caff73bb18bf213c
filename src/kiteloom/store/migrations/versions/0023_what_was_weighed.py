"""Weighings, readings on a hinge, what else an airframe carries, its limits, arms that are typed"""

from alembic import op

revision = '0023'
down_revision = '0022'
branch_labels = None
depends_on = None

FACT = "happened_at DATETIME NOT NULL, recorded_at DATETIME NOT NULL"


def upgrade() -> None:
    op.execute(
        f"CREATE TABLE weighing (id VARCHAR(36) NOT NULL, part_id VARCHAR NOT NULL, job_key VARCHAR NOT NULL, "
        f"moment VARCHAR NOT NULL, grams DOUBLE NOT NULL, note VARCHAR NOT NULL, {FACT}, "
        "CONSTRAINT pk_weighing PRIMARY KEY (id), "
        "CONSTRAINT ck_weighing_moment CHECK (moment IN ('before','after')), "
        "CONSTRAINT fk_weighing_part_id FOREIGN KEY(part_id) REFERENCES part (id))"
    )
    op.execute(
        f"CREATE TABLE hinge_reading (id VARCHAR(36) NOT NULL, part_id VARCHAR NOT NULL, grams DOUBLE NOT NULL, "
        f"arm_m DOUBLE NOT NULL, mounted_g DOUBLE NOT NULL, note VARCHAR NOT NULL, {FACT}, "
        "CONSTRAINT pk_hinge_reading PRIMARY KEY (id), "
        "CONSTRAINT fk_hinge_reading_part_id FOREIGN KEY(part_id) REFERENCES part (id))"
    )
    for table in ('weighing', 'hinge_reading'):
        op.execute(f"CREATE INDEX ix_{table}_part_id ON {table} (part_id)")
        op.execute(f"CREATE INDEX ix_{table}_happened_at ON {table} (happened_at)")
        for change in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{change.lower()} BEFORE {change} ON {table} "
                "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
            )
    op.execute(
        "CREATE TABLE mass_item (id VARCHAR(36) NOT NULL, project_id VARCHAR NOT NULL, name VARCHAR NOT NULL, "
        "grams DOUBLE NOT NULL, aft_m DOUBLE NOT NULL, load BOOLEAN NOT NULL, hidden_at DATETIME, "
        "version INTEGER NOT NULL, updated_at DATETIME NOT NULL, "
        "CONSTRAINT pk_mass_item PRIMARY KEY (id), "
        "CONSTRAINT fk_mass_item_project_id FOREIGN KEY(project_id) REFERENCES project (id))"
    )
    op.execute("CREATE INDEX ix_mass_item_project_id ON mass_item (project_id)")
    op.execute("ALTER TABLE project ADD COLUMN limits JSON NOT NULL DEFAULT '{}'")
    op.execute("ALTER TABLE part ADD COLUMN arm_m DOUBLE")
    op.execute("ALTER TABLE design ADD COLUMN hinge JSON NOT NULL DEFAULT '{}'")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

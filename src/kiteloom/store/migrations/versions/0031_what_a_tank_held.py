"""What was read of tanks under pressure.

Revision ID: 0031
Revises: 0030
"""

from alembic import op

revision = '0031'
down_revision = '0030'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute(
        "CREATE TABLE tank_read (id VARCHAR(36) NOT NULL, part_id VARCHAR NOT NULL, begins BOOLEAN NOT NULL, "
        "gauge_kpa DOUBLE NOT NULL, temp_c DOUBLE NOT NULL, air_kpa DOUBLE, note VARCHAR NOT NULL, "
        "happened_at DATETIME NOT NULL, recorded_at DATETIME NOT NULL, "
        "CONSTRAINT pk_tank_read PRIMARY KEY (id), "
        "CONSTRAINT fk_tank_read_part_id FOREIGN KEY(part_id) REFERENCES part (id))"
    )
    op.execute("CREATE INDEX ix_tank_read_part_id ON tank_read (part_id)")
    op.execute("CREATE INDEX ix_tank_read_happened_at ON tank_read (happened_at)")
    for change in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER tank_read_no_{change.lower()} BEFORE {change} ON tank_read "
            "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
        )


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

"""A logger's file may replace what was recorded; what it replaced stays, and comes back with the file taken back"""

from alembic import op

revision = '0016'
down_revision = '0015'
branch_labels = None
depends_on = None

ARCHIVED = (
    "EXISTS (SELECT 1 FROM temperature_replaced WHERE zone = OLD.zone AND happened_at = OLD.happened_at "
    "AND import_id IS OLD.import_id)"
)


def upgrade() -> None:
    op.execute(
        "CREATE TABLE temperature_replaced ("
        "zone VARCHAR NOT NULL, happened_at DATETIME NOT NULL, replaced_by VARCHAR(36) NOT NULL, "
        "temp_c DOUBLE NOT NULL, rh_pct DOUBLE, source VARCHAR NOT NULL, import_id VARCHAR(36), "
        "CONSTRAINT pk_temperature_replaced PRIMARY KEY (zone, happened_at, replaced_by))"
    )
    op.execute("DROP TRIGGER temperature_no_update")
    op.execute(
        "CREATE TRIGGER temperature_no_update BEFORE UPDATE ON temperature "
        "WHEN OLD.import_id IS NULL OR OLD.import_id NOT IN (SELECT of_id FROM taken_back) "
        "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
    )
    op.execute("DROP TRIGGER temperature_no_delete")
    op.execute(
        f"CREATE TRIGGER temperature_no_delete BEFORE DELETE ON temperature WHEN NOT {ARCHIVED} "
        "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
    )
    for change in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER temperature_replaced_no_{change.lower()} BEFORE {change} ON temperature_replaced "
            "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
        )


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

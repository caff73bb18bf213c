"""What was taken back stays and does not count; an alert that is over may come again"""

from alembic import op

revision = '0013'
down_revision = '0012'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("ALTER TABLE alert ADD COLUMN ended_at DATETIME")
    op.execute(
        "CREATE TABLE taken_back ("
        "id VARCHAR(36) NOT NULL, what VARCHAR NOT NULL, of_id VARCHAR(36) NOT NULL, note VARCHAR NOT NULL, "
        "crew_member_id VARCHAR(36), happened_at DATETIME NOT NULL, recorded_at DATETIME NOT NULL, "
        "CONSTRAINT pk_taken_back PRIMARY KEY (id), "
        "CONSTRAINT uq_taken_back_of_id UNIQUE (of_id), "
        "CONSTRAINT fk_taken_back_crew_member_id FOREIGN KEY(crew_member_id) REFERENCES crew_member (id))"
    )
    op.execute("CREATE INDEX ix_taken_back_happened_at ON taken_back (happened_at)")
    for change in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER taken_back_no_{change.lower()} BEFORE {change} ON taken_back "
            "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
        )


    # Readings of a file that was taken back give way to others of the same minutes.
    op.execute("DROP TRIGGER temperature_no_update")
    op.execute(
        "CREATE TRIGGER temperature_no_update BEFORE UPDATE ON temperature "
        "WHEN OLD.import_id IS NULL OR OLD.import_id NOT IN (SELECT of_id FROM taken_back) "
        "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
    )


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

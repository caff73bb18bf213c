"""Deviations and what was decided; a job before a step; photographs of either; a step may not apply"""

from alembic import op

revision = '0017'
down_revision = '0016'
branch_labels = None
depends_on = None


def guarded(table: str) -> None:
    for change in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER {table}_no_{change.lower()} BEFORE {change} ON {table} "
            "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
        )


def upgrade() -> None:
    op.execute("ALTER TABLE job ADD COLUMN before_key VARCHAR NOT NULL DEFAULT ''")
    op.execute("""
        CREATE TABLE deviation (
            id VARCHAR(36) NOT NULL,
            part_id VARCHAR(36) NOT NULL,
            step_key VARCHAR NOT NULL,
            kind VARCHAR NOT NULL,
            words VARCHAR NOT NULL,
            along DOUBLE,
            across DOUBLE,
            crew_member_id VARCHAR(36),
            happened_at DATETIME NOT NULL,
            recorded_at DATETIME NOT NULL,
            CONSTRAINT pk_deviation PRIMARY KEY (id),
            CONSTRAINT fk_deviation_part_id FOREIGN KEY(part_id) REFERENCES part (id),
            CONSTRAINT fk_deviation_crew_member_id FOREIGN KEY(crew_member_id) REFERENCES crew_member (id)
        )""")
    op.execute("CREATE INDEX ix_deviation_part_id ON deviation (part_id)")
    op.execute("CREATE INDEX ix_deviation_happened_at ON deviation (happened_at)")
    guarded("deviation")
    op.execute("""
        CREATE TABLE decision (
            id VARCHAR(36) NOT NULL,
            deviation_id VARCHAR(36) NOT NULL,
            kind VARCHAR NOT NULL,
            note VARCHAR NOT NULL,
            crew_member_id VARCHAR(36),
            job_id VARCHAR(36),
            happened_at DATETIME NOT NULL,
            recorded_at DATETIME NOT NULL,
            CONSTRAINT pk_decision PRIMARY KEY (id),
            CONSTRAINT ck_decision_kind CHECK (kind IN ('accept','mend','scrap','open')),
            CONSTRAINT fk_decision_deviation_id FOREIGN KEY(deviation_id) REFERENCES deviation (id),
            CONSTRAINT fk_decision_crew_member_id FOREIGN KEY(crew_member_id) REFERENCES crew_member (id),
            CONSTRAINT fk_decision_job_id FOREIGN KEY(job_id) REFERENCES job (id)
        )""")
    op.execute("CREATE INDEX ix_decision_deviation_id ON decision (deviation_id)")
    op.execute("CREATE INDEX ix_decision_happened_at ON decision (happened_at)")
    guarded("decision")
    op.execute("""
        CREATE TABLE new_photo (
            id VARCHAR(36) NOT NULL,
            batch_id VARCHAR(36),
            media VARCHAR NOT NULL,
            data BLOB NOT NULL,
            happened_at DATETIME NOT NULL,
            recorded_at DATETIME NOT NULL,
            deviation_id VARCHAR(36),
            CONSTRAINT pk_photo PRIMARY KEY (id),
            CONSTRAINT fk_photo_batch_id FOREIGN KEY(batch_id) REFERENCES batch (id),
            CONSTRAINT fk_photo_deviation_id FOREIGN KEY(deviation_id) REFERENCES deviation (id)
        )""")
    op.execute(
        "INSERT INTO new_photo (id, batch_id, media, data, happened_at, recorded_at) "
        "SELECT id, batch_id, media, data, happened_at, recorded_at FROM photo"
    )
    op.execute("DROP TABLE photo")
    op.execute("ALTER TABLE new_photo RENAME TO photo")
    op.execute("CREATE INDEX ix_photo_happened_at ON photo (happened_at)")
    op.execute("CREATE INDEX ix_photo_batch_id ON photo (batch_id)")
    op.execute("CREATE INDEX ix_photo_deviation_id ON photo (deviation_id)")
    guarded("photo")
    op.execute("""
        CREATE TABLE new_work (
            id VARCHAR(36) NOT NULL,
            undoes_id VARCHAR(36),
            part_id VARCHAR(36) NOT NULL,
            step_key VARCHAR NOT NULL,
            step_name VARCHAR NOT NULL,
            kind VARCHAR NOT NULL,
            estimate_min DOUBLE NOT NULL,
            crew JSON NOT NULL,
            happened_at DATETIME NOT NULL,
            recorded_at DATETIME NOT NULL,
            note VARCHAR NOT NULL DEFAULT '',
            CONSTRAINT pk_work PRIMARY KEY (id),
            CONSTRAINT ck_work_kind CHECK (kind IN ('start','pause','finish','skip','undo')),
            CONSTRAINT fk_work_part_id FOREIGN KEY(part_id) REFERENCES part (id),
            CONSTRAINT fk_work_undoes_id FOREIGN KEY(undoes_id) REFERENCES work (id),
            CONSTRAINT uq_work_undoes_id UNIQUE (undoes_id)
        )""")
    columns = "id, undoes_id, part_id, step_key, step_name, kind, estimate_min, crew, happened_at, recorded_at, note"
    op.execute(f"INSERT INTO new_work ({columns}) SELECT {columns} FROM work")
    op.execute("DROP TABLE work")
    op.execute("ALTER TABLE new_work RENAME TO work")
    op.execute("CREATE INDEX ix_work_happened_at ON work (happened_at)")
    op.execute("CREATE INDEX ix_work_part_id ON work (part_id)")
    guarded("work")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

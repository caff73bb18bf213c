"""Notes, questions and their answers; photographs of them, of steps and of readings, each known by its digest.

Revision ID: 0039
Revises: 0038
"""

from alembic import op

revision = '0039'
down_revision = '0038'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("""CREATE TABLE log_note (
        id VARCHAR(36) NOT NULL, corrects_id VARCHAR(36), kind VARCHAR NOT NULL, words VARCHAR NOT NULL,
        part_id VARCHAR(36), step_key VARCHAR DEFAULT '' NOT NULL, crew_member_id VARCHAR(36),
        happened_at DATETIME NOT NULL, recorded_at DATETIME NOT NULL,
        CONSTRAINT pk_log_note PRIMARY KEY (id),
        CONSTRAINT uq_log_note_corrects_id UNIQUE (corrects_id),
        CONSTRAINT ck_log_note_kind CHECK (kind IN ('note','question')),
        CONSTRAINT fk_log_note_corrects_id FOREIGN KEY(corrects_id) REFERENCES log_note (id),
        CONSTRAINT fk_log_note_part_id FOREIGN KEY(part_id) REFERENCES part (id),
        CONSTRAINT fk_log_note_crew_member_id FOREIGN KEY(crew_member_id) REFERENCES crew_member (id))""")
    op.execute("CREATE INDEX ix_log_note_part_id ON log_note (part_id)")
    op.execute("CREATE INDEX ix_log_note_happened_at ON log_note (happened_at)")
    op.execute("""CREATE TABLE log_answer (
        id VARCHAR(36) NOT NULL, log_note_id VARCHAR(36) NOT NULL, words VARCHAR NOT NULL, by_whom VARCHAR NOT NULL,
        revision VARCHAR DEFAULT '' NOT NULL, crew_member_id VARCHAR(36),
        happened_at DATETIME NOT NULL, recorded_at DATETIME NOT NULL,
        CONSTRAINT pk_log_answer PRIMARY KEY (id),
        CONSTRAINT fk_log_answer_log_note_id FOREIGN KEY(log_note_id) REFERENCES log_note (id),
        CONSTRAINT fk_log_answer_crew_member_id FOREIGN KEY(crew_member_id) REFERENCES crew_member (id))""")
    op.execute("CREATE INDEX ix_log_answer_log_note_id ON log_answer (log_note_id)")
    op.execute("CREATE INDEX ix_log_answer_happened_at ON log_answer (happened_at)")
    op.execute("ALTER TABLE photo ADD COLUMN log_note_id VARCHAR(36) REFERENCES log_note (id)")
    op.execute("ALTER TABLE photo ADD COLUMN part_id VARCHAR(36) REFERENCES part (id)")
    op.execute("ALTER TABLE photo ADD COLUMN step_key VARCHAR DEFAULT '' NOT NULL")
    op.execute("ALTER TABLE photo ADD COLUMN measured_id VARCHAR(36) REFERENCES measured (id)")
    op.execute("ALTER TABLE photo ADD COLUMN same_id VARCHAR(36) REFERENCES photo (id)")
    op.execute("ALTER TABLE photo ADD COLUMN digest VARCHAR(64) DEFAULT '' NOT NULL")
    op.execute("ALTER TABLE photo ADD COLUMN small BLOB")
    for column in ('log_note_id', 'part_id', 'measured_id', 'digest'):
        op.execute(f"CREATE INDEX ix_photo_{column} ON photo ({column})")
    for table in ('log_note', 'log_answer'):
        for verb in ('UPDATE', 'DELETE'):
            op.execute(
                f"CREATE TRIGGER {table}_no_{verb.lower()} BEFORE {verb} ON {table} "
                "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
            )


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

"""Glue lines tapped with a coin, closings with their lists and signatures.

Revision ID: 0027
Revises: 0026
"""

from alembic import op

revision = '0027'
down_revision = '0026'
branch_labels = None
depends_on = None

FACT = "happened_at DATETIME NOT NULL, recorded_at DATETIME NOT NULL"
BY = "FOREIGN KEY(crew_member_id) REFERENCES crew_member (id)"
OF = "FOREIGN KEY(part_id) REFERENCES part (id)"


def upgrade() -> None:
    op.execute(
        f"CREATE TABLE coin_tap (id VARCHAR(36) NOT NULL, part_id VARCHAR NOT NULL, along INTEGER NOT NULL, "
        f"across INTEGER NOT NULL, voids JSON NOT NULL, crew_member_id VARCHAR, note VARCHAR NOT NULL, {FACT}, "
        f"CONSTRAINT pk_coin_tap PRIMARY KEY (id), CONSTRAINT fk_coin_tap_part_id {OF}, "
        f"CONSTRAINT fk_coin_tap_crew_member_id {BY})"
    )
    op.execute(
        f"CREATE TABLE tap_ruling (id VARCHAR(36) NOT NULL, coin_tap_id VARCHAR NOT NULL, kind VARCHAR NOT NULL, "
        f"note VARCHAR NOT NULL, crew_member_id VARCHAR NOT NULL, {FACT}, "
        "CONSTRAINT pk_tap_ruling PRIMARY KEY (id), "
        "CONSTRAINT ck_tap_ruling_kind CHECK (kind IN ('accept','inject','redo')), "
        "CONSTRAINT fk_tap_ruling_coin_tap_id FOREIGN KEY(coin_tap_id) REFERENCES coin_tap (id), "
        f"CONSTRAINT fk_tap_ruling_crew_member_id {BY})"
    )
    op.execute(
        f"CREATE TABLE gate_note (id VARCHAR(36) NOT NULL, part_id VARCHAR NOT NULL, step_key VARCHAR NOT NULL, "
        f"kind VARCHAR NOT NULL, line VARCHAR NOT NULL, note VARCHAR NOT NULL, crew_member_id VARCHAR, {FACT}, "
        "CONSTRAINT pk_gate_note PRIMARY KEY (id), "
        "CONSTRAINT ck_gate_note_kind CHECK "
        "(kind IN ('add','done','not needed','open','sign','reopen','asked','seen','list')), "
        f"CONSTRAINT fk_gate_note_part_id {OF}, CONSTRAINT fk_gate_note_crew_member_id {BY})"
    )
    for table, column in (("coin_tap", "part_id"), ("tap_ruling", "coin_tap_id"), ("gate_note", "part_id")):
        op.execute(f"CREATE INDEX ix_{table}_{column} ON {table} ({column})")
        op.execute(f"CREATE INDEX ix_{table}_happened_at ON {table} (happened_at)")
        for change in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{change.lower()} BEFORE {change} ON {table} "
                "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
            )
    op.execute(
        "CREATE TABLE gate_list (id VARCHAR(36) NOT NULL, name VARCHAR NOT NULL, lines JSON NOT NULL, "
        "hidden_at DATETIME, version INTEGER NOT NULL, updated_at DATETIME NOT NULL, "
        "CONSTRAINT pk_gate_list PRIMARY KEY (id))"
    )
    op.execute("ALTER TABLE photo ADD COLUMN gate_note_id VARCHAR REFERENCES gate_note (id)")
    op.execute("CREATE INDEX ix_photo_gate_note_id ON photo (gate_note_id)")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

"""A mix may be for no planned step, and carries its filler; what the shop's bench has; more to be heard of"""

from alembic import op

revision = '0014'
down_revision = '0013'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("ALTER TABLE shop ADD COLUMN bench JSON NOT NULL DEFAULT '{}'")
    op.execute("""
        CREATE TABLE new_batch (
            id VARCHAR(36) NOT NULL,
            corrects_id VARCHAR(36),
            part_id VARCHAR(36),
            step_key VARCHAR NOT NULL,
            step_name VARCHAR NOT NULL,
            data_sheet_id VARCHAR(36) NOT NULL,
            product VARCHAR NOT NULL,
            says JSON NOT NULL,
            lot_id VARCHAR(36),
            crew_member_id VARCHAR(36),
            wanted_g DOUBLE NOT NULL,
            resin_g DOUBLE NOT NULL,
            hardener_g DOUBLE NOT NULL,
            deviation_pct DOUBLE,
            verdict VARCHAR NOT NULL,
            temp_c DOUBLE,
            note VARCHAR NOT NULL,
            happened_at DATETIME NOT NULL,
            recorded_at DATETIME NOT NULL,
            rh_pct DOUBLE,
            margin_k DOUBLE,
            hardener_lot_id VARCHAR(36),
            filler JSON NOT NULL DEFAULT '{}',
            CONSTRAINT pk_batch PRIMARY KEY (id),
            CONSTRAINT ck_batch_verdict CHECK (verdict IN ('in','near','out')),
            CONSTRAINT ck_batch_masses CHECK (resin_g >= 0 AND hardener_g >= 0 AND resin_g + hardener_g > 0),
            CONSTRAINT fk_batch_corrects_id FOREIGN KEY(corrects_id) REFERENCES batch (id),
            CONSTRAINT fk_batch_crew_member_id FOREIGN KEY(crew_member_id) REFERENCES crew_member (id),
            CONSTRAINT fk_batch_data_sheet_id FOREIGN KEY(data_sheet_id) REFERENCES data_sheet (id),
            CONSTRAINT fk_batch_lot_id FOREIGN KEY(lot_id) REFERENCES lot (id),
            CONSTRAINT fk_batch_hardener_lot_id FOREIGN KEY(hardener_lot_id) REFERENCES lot (id),
            CONSTRAINT fk_batch_part_id FOREIGN KEY(part_id) REFERENCES part (id),
            CONSTRAINT uq_batch_corrects_id UNIQUE (corrects_id)
        )""")
    columns = (
        "id, corrects_id, part_id, step_key, step_name, data_sheet_id, product, says, lot_id, crew_member_id, wanted_g, "
        "resin_g, hardener_g, deviation_pct, verdict, temp_c, rh_pct, margin_k, hardener_lot_id, note, happened_at, "
        "recorded_at"
    )
    op.execute(f"INSERT INTO new_batch ({columns}) SELECT {columns} FROM batch")
    op.execute("DROP TABLE batch")
    op.execute("ALTER TABLE new_batch RENAME TO batch")
    op.execute("CREATE INDEX ix_batch_happened_at ON batch (happened_at)")
    op.execute("CREATE INDEX ix_batch_part_id ON batch (part_id)")
    for change in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER batch_no_{change.lower()} BEFORE {change} ON batch "
            "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
        )
    op.execute("""
        CREATE TABLE new_alert (
            id INTEGER NOT NULL,
            kind VARCHAR NOT NULL,
            about VARCHAR NOT NULL,
            link VARCHAR NOT NULL,
            words VARCHAR NOT NULL,
            happened_at DATETIME NOT NULL,
            recorded_at DATETIME NOT NULL,
            silenced_at DATETIME,
            ended_at DATETIME,
            CONSTRAINT pk_alert PRIMARY KEY (id),
            CONSTRAINT ck_alert_kind CHECK (kind IN ('stage','stalled','dew','silent','cup','mix','lot')),
            CONSTRAINT uq_alert_about UNIQUE (about)
        )""")
    columns = "id, kind, about, link, words, happened_at, recorded_at, silenced_at, ended_at"
    op.execute(f"INSERT INTO new_alert ({columns}) SELECT {columns} FROM alert")
    op.execute("DROP TABLE alert")
    op.execute("ALTER TABLE new_alert RENAME TO alert")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

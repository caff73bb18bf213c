"""Cut plans, ways of cutting them, layouts, and remnants on the shelf"""

from alembic import op

revision = '0022'
down_revision = '0021'
branch_labels = None
depends_on = None

EDITED = "version INTEGER NOT NULL, updated_at DATETIME NOT NULL"
FACT = "happened_at DATETIME NOT NULL, recorded_at DATETIME NOT NULL"
FACTS = ('piece_cut', 'way_cut', 'remnant', 'remnant_note')


def upgrade() -> None:
    op.execute(
        f"CREATE TABLE cut_plan (id VARCHAR(36) NOT NULL, name VARCHAR NOT NULL, data_sheet_id VARCHAR NOT NULL, "
        f"rows JSON NOT NULL, plies VARCHAR NOT NULL, hidden_at DATETIME, {EDITED}, "
        "CONSTRAINT pk_cut_plan PRIMARY KEY (id), "
        "CONSTRAINT fk_cut_plan_data_sheet_id FOREIGN KEY(data_sheet_id) REFERENCES data_sheet (id))"
    )
    op.execute(
        f"CREATE TABLE cut_way (id VARCHAR(36) NOT NULL, cut_plan_id VARCHAR(36) NOT NULL, rank INTEGER NOT NULL, "
        f"data_sheet_id VARCHAR NOT NULL, says JSON NOT NULL, hidden_at DATETIME, {EDITED}, "
        "CONSTRAINT pk_cut_way PRIMARY KEY (id), "
        "CONSTRAINT fk_cut_way_cut_plan_id FOREIGN KEY(cut_plan_id) REFERENCES cut_plan (id), "
        "CONSTRAINT fk_cut_way_data_sheet_id FOREIGN KEY(data_sheet_id) REFERENCES data_sheet (id))"
    )
    op.execute("CREATE INDEX ix_cut_way_cut_plan_id ON cut_way (cut_plan_id)")
    op.execute(
        "CREATE TABLE cut_layout (cut_way_id VARCHAR NOT NULL, state VARCHAR NOT NULL, words VARCHAR NOT NULL, "
        "made_of VARCHAR NOT NULL, pieces JSON NOT NULL, found JSON NOT NULL, asked_at DATETIME NOT NULL, "
        "CONSTRAINT pk_cut_layout PRIMARY KEY (cut_way_id), "
        "CONSTRAINT ck_cut_layout_state CHECK (state IN ('waiting','looking','done','stopped','failed')), "
        "CONSTRAINT fk_cut_layout_cut_way_id FOREIGN KEY(cut_way_id) REFERENCES cut_way (id))"
    )
    op.execute(
        f"CREATE TABLE piece_cut (id VARCHAR(36) NOT NULL, cut_way_id VARCHAR NOT NULL, piece VARCHAR NOT NULL, "
        f"done BOOLEAN NOT NULL, {FACT}, CONSTRAINT pk_piece_cut PRIMARY KEY (id), "
        "CONSTRAINT fk_piece_cut_cut_way_id FOREIGN KEY(cut_way_id) REFERENCES cut_way (id))"
    )
    op.execute("CREATE INDEX ix_piece_cut_cut_way_id ON piece_cut (cut_way_id)")
    op.execute(
        f"CREATE TABLE way_cut (id VARCHAR(36) NOT NULL, cut_way_id VARCHAR NOT NULL, {FACT}, "
        "CONSTRAINT pk_way_cut PRIMARY KEY (id), CONSTRAINT uq_way_cut_cut_way_id UNIQUE (cut_way_id), "
        "CONSTRAINT fk_way_cut_cut_way_id FOREIGN KEY(cut_way_id) REFERENCES cut_way (id))"
    )
    op.execute(
        f"CREATE TABLE remnant (id VARCHAR(36) NOT NULL, data_sheet_id VARCHAR NOT NULL, rings JSON NOT NULL, "
        f"cut_way_id VARCHAR, note VARCHAR NOT NULL, {FACT}, CONSTRAINT pk_remnant PRIMARY KEY (id), "
        "CONSTRAINT fk_remnant_data_sheet_id FOREIGN KEY(data_sheet_id) REFERENCES data_sheet (id), "
        "CONSTRAINT fk_remnant_cut_way_id FOREIGN KEY(cut_way_id) REFERENCES cut_way (id))"
    )
    op.execute("CREATE INDEX ix_remnant_data_sheet_id ON remnant (data_sheet_id)")
    op.execute(
        f"CREATE TABLE remnant_note (id VARCHAR(36) NOT NULL, remnant_id VARCHAR NOT NULL, kind VARCHAR NOT NULL, "
        f"cut_way_id VARCHAR, {FACT}, CONSTRAINT pk_remnant_note PRIMARY KEY (id), "
        "CONSTRAINT ck_remnant_note_kind CHECK (kind IN ('used','thrown','there')), "
        "CONSTRAINT fk_remnant_note_remnant_id FOREIGN KEY(remnant_id) REFERENCES remnant (id), "
        "CONSTRAINT fk_remnant_note_cut_way_id FOREIGN KEY(cut_way_id) REFERENCES cut_way (id))"
    )
    op.execute("CREATE INDEX ix_remnant_note_remnant_id ON remnant_note (remnant_id)")
    for table in FACTS:
        op.execute(f"CREATE INDEX ix_{table}_happened_at ON {table} (happened_at)")
        for change in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{change.lower()} BEFORE {change} ON {table} "
                "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
            )


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

"""Items that are not mixed, who uses them, suppliers, offers, orders; where a lot is kept, and who counted it.

Revision ID: 0032
Revises: 0031
"""

from alembic import op

revision = '0032'
down_revision = '0031'
branch_labels = None
depends_on = None

TABLES = (
    'CREATE TABLE item ( '
    'id VARCHAR(36) NOT NULL, '
    'name VARCHAR NOT NULL, '
    'number VARCHAR NOT NULL, '
    'says JSON NOT NULL, '
    'kit VARCHAR NOT NULL, '
    'listed DOUBLE, '
    'hidden_at DATETIME, '
    'version INTEGER NOT NULL, '
    'updated_at DATETIME NOT NULL, '
    'CONSTRAINT pk_item PRIMARY KEY (id) '
    ') ',
    'CREATE TABLE item_use ( '
    'id VARCHAR(36) NOT NULL, '
    'item_id VARCHAR(36) NOT NULL, '
    'part_id VARCHAR(36) NOT NULL, '
    'step_key VARCHAR NOT NULL, '
    'count DOUBLE NOT NULL, '
    'stack_mm DOUBLE, '
    'hidden_at DATETIME, '
    'version INTEGER NOT NULL, '
    'updated_at DATETIME NOT NULL, '
    'CONSTRAINT pk_item_use PRIMARY KEY (id), '
    'CONSTRAINT fk_item_use_item_id FOREIGN KEY(item_id) REFERENCES item (id), '
    'CONSTRAINT fk_item_use_part_id FOREIGN KEY(part_id) REFERENCES part (id) '
    ') ',
    'CREATE TABLE item_note ( '
    'id VARCHAR(36) NOT NULL, '
    'item_id VARCHAR(36) NOT NULL, '
    'kind VARCHAR NOT NULL, '
    'amount DOUBLE NOT NULL, '
    'note VARCHAR NOT NULL, '
    'crew_member_id VARCHAR(36), '
    'happened_at DATETIME NOT NULL, '
    'recorded_at DATETIME NOT NULL, '
    'CONSTRAINT pk_item_note PRIMARY KEY (id), '
    "CONSTRAINT ck_item_note_kind CHECK (kind IN ('found','missing','damaged','counted','thrown','used')), "
    'CONSTRAINT fk_item_note_item_id FOREIGN KEY(item_id) REFERENCES item (id), '
    'CONSTRAINT fk_item_note_crew_member_id FOREIGN KEY(crew_member_id) REFERENCES crew_member (id) '
    ') ',
    'CREATE TABLE supplier ( '
    'id VARCHAR(36) NOT NULL, '
    'name VARCHAR NOT NULL, '
    'currency VARCHAR NOT NULL, '
    'postage DOUBLE NOT NULL, '
    'free_from DOUBLE, '
    'hidden_at DATETIME, '
    'version INTEGER NOT NULL, '
    'updated_at DATETIME NOT NULL, '
    'CONSTRAINT pk_supplier PRIMARY KEY (id) '
    ') ',
    'CREATE TABLE offer ( '
    'id VARCHAR(36) NOT NULL, '
    'supplier_id VARCHAR(36) NOT NULL, '
    'data_sheet_id VARCHAR(36), '
    'item_id VARCHAR(36), '
    'component VARCHAR NOT NULL, '
    'words VARCHAR NOT NULL, '
    'amount DOUBLE NOT NULL, '
    'price DOUBLE NOT NULL, '
    'lead_days INTEGER NOT NULL, '
    'seen_on DATE NOT NULL, '
    'hidden_at DATETIME, '
    'version INTEGER NOT NULL, '
    'updated_at DATETIME NOT NULL, '
    'CONSTRAINT pk_offer PRIMARY KEY (id), '
    'CONSTRAINT ck_offer_of_one CHECK ((data_sheet_id IS NULL) <> (item_id IS NULL)), '
    'CONSTRAINT fk_offer_supplier_id FOREIGN KEY(supplier_id) REFERENCES supplier (id), '
    'CONSTRAINT fk_offer_data_sheet_id FOREIGN KEY(data_sheet_id) REFERENCES data_sheet (id), '
    'CONSTRAINT fk_offer_item_id FOREIGN KEY(item_id) REFERENCES item (id) '
    ') ',
    'CREATE TABLE order_line ( '
    'id VARCHAR(36) NOT NULL, '
    'supplier_id VARCHAR(36) NOT NULL, '
    'data_sheet_id VARCHAR(36), '
    'item_id VARCHAR(36), '
    'component VARCHAR NOT NULL, '
    'name VARCHAR NOT NULL, '
    'words VARCHAR NOT NULL, '
    'amount DOUBLE NOT NULL, '
    'packs INTEGER NOT NULL, '
    'price DOUBLE NOT NULL, '
    'currency VARCHAR NOT NULL, '
    'expected_on DATE, '
    'hidden_at DATETIME, '
    'version INTEGER NOT NULL, '
    'updated_at DATETIME NOT NULL, '
    'CONSTRAINT pk_order_line PRIMARY KEY (id), '
    'CONSTRAINT ck_order_line_of_one CHECK ((data_sheet_id IS NULL) <> (item_id IS NULL)), '
    'CONSTRAINT fk_order_line_supplier_id FOREIGN KEY(supplier_id) REFERENCES supplier (id), '
    'CONSTRAINT fk_order_line_data_sheet_id FOREIGN KEY(data_sheet_id) REFERENCES data_sheet (id), '
    'CONSTRAINT fk_order_line_item_id FOREIGN KEY(item_id) REFERENCES item (id) '
    ') ',
    'CREATE TABLE order_note ( '
    'id VARCHAR(36) NOT NULL, '
    'order_line_id VARCHAR(36) NOT NULL, '
    'kind VARCHAR NOT NULL, '
    'packs INTEGER NOT NULL, '
    'note VARCHAR NOT NULL, '
    'crew_member_id VARCHAR(36), '
    'lot_id VARCHAR(36), '
    'happened_at DATETIME NOT NULL, '
    'recorded_at DATETIME NOT NULL, '
    'CONSTRAINT pk_order_note PRIMARY KEY (id), '
    "CONSTRAINT ck_order_note_kind CHECK (kind IN ('ordered','received','wrong','cancelled')), "
    'CONSTRAINT fk_order_note_order_line_id FOREIGN KEY(order_line_id) REFERENCES order_line (id), '
    'CONSTRAINT fk_order_note_crew_member_id FOREIGN KEY(crew_member_id) REFERENCES crew_member (id), '
    'CONSTRAINT fk_order_note_lot_id FOREIGN KEY(lot_id) REFERENCES lot (id) '
    ') ',
)
INDEXES = (
    'CREATE INDEX ix_item_use_item_id ON item_use (item_id)',
    'CREATE INDEX ix_item_use_part_id ON item_use (part_id)',
    'CREATE INDEX ix_item_note_happened_at ON item_note (happened_at)',
    'CREATE INDEX ix_item_note_item_id ON item_note (item_id)',
    'CREATE INDEX ix_offer_data_sheet_id ON offer (data_sheet_id)',
    'CREATE INDEX ix_offer_item_id ON offer (item_id)',
    'CREATE INDEX ix_offer_supplier_id ON offer (supplier_id)',
    'CREATE INDEX ix_order_line_data_sheet_id ON order_line (data_sheet_id)',
    'CREATE INDEX ix_order_line_item_id ON order_line (item_id)',
    'CREATE INDEX ix_order_line_supplier_id ON order_line (supplier_id)',
    'CREATE INDEX ix_order_note_happened_at ON order_note (happened_at)',
    'CREATE INDEX ix_order_note_order_line_id ON order_note (order_line_id)',
)
LOT_NOTE = (
    'CREATE TABLE lot_note ( '
    'id VARCHAR(36) NOT NULL, '
    'lot_id VARCHAR(36) NOT NULL, '
    'kind VARCHAR NOT NULL, '
    'amount DOUBLE, '
    'note VARCHAR NOT NULL, '
    'crew_member_id VARCHAR(36), '
    'happened_at DATETIME NOT NULL, '
    'recorded_at DATETIME NOT NULL, '
    'CONSTRAINT pk_lot_note PRIMARY KEY (id), '
    "CONSTRAINT ck_lot_note_kind CHECK (kind IN ('opened','bad','cleared','counted','moved','thrown')), "
    'CONSTRAINT fk_lot_note_lot_id FOREIGN KEY(lot_id) REFERENCES lot (id), '
    'CONSTRAINT fk_lot_note_crew_member_id FOREIGN KEY(crew_member_id) REFERENCES crew_member (id) '
    ') '
)
LOT_NOTE_INDEXES = (
    'CREATE INDEX ix_lot_note_happened_at ON lot_note (happened_at)',
    'CREATE INDEX ix_lot_note_lot_id ON lot_note (lot_id)',
)


def _kept(table: str) -> None:
    for change in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER {table}_no_{change.lower()} BEFORE {change} ON {table} "
            "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
        )


def upgrade() -> None:
    for statement in (*TABLES, *INDEXES):
        op.execute(statement)
    for table in ("item_note", "order_note"):
        _kept(table)
    # A lot's notes get more kinds: the table is made anew, its rows as they are.
    op.execute("ALTER TABLE lot_note RENAME TO lot_note_before")
    for name in ("ix_lot_note_happened_at", "ix_lot_note_lot_id"):
        op.execute(f"DROP INDEX {name}")
    op.execute(LOT_NOTE)
    columns = "id, lot_id, kind, amount, note, happened_at, recorded_at"
    op.execute(f"INSERT INTO lot_note ({columns}) SELECT {columns} FROM lot_note_before ORDER BY rowid")
    op.execute("DROP TABLE lot_note_before")
    for statement in LOT_NOTE_INDEXES:
        op.execute(statement)
    _kept("lot_note")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

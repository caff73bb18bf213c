"""A shape is of any kind; parts have a place on their airframe and can be hidden; airframes and assemblies are edited"""

import json

import sqlalchemy as sa
from alembic import op

revision = '0020'
down_revision = '0019'
branch_labels = None
depends_on = None

NAMES = {'along_m': 'at_m', 'leading_m': 'leading_edge_m'}


def upgrade() -> None:
    connection = op.get_bind()
    rows = connection.execute(sa.text("SELECT id, name, stations, version, updated_at FROM shape")).fetchall()
    op.execute("""
        CREATE TABLE shape_new (
            id VARCHAR(36) NOT NULL,
            name VARCHAR NOT NULL,
            kind VARCHAR NOT NULL,
            says JSON NOT NULL,
            version INTEGER NOT NULL,
            updated_at DATETIME NOT NULL,
            CONSTRAINT pk_shape PRIMARY KEY (id),
            CONSTRAINT ck_shape_kind CHECK (kind IN ('loft','outline','strips','pieces'))
        )""")
    for key, name, stations, version, updated_at in rows:
        # Written by Python, which keeps every digit of a number.
        says = {'stations': [{NAMES.get(k, k): v for k, v in row.items()} for row in json.loads(stations)]}
        connection.execute(
            sa.text("INSERT INTO shape_new VALUES (:id, :name, 'loft', :says, :version, :updated_at)"),
            {'id': key, 'name': name, 'says': json.dumps(says), 'version': version, 'updated_at': updated_at},
        )
    op.execute("DROP TABLE shape")
    op.execute("ALTER TABLE shape_new RENAME TO shape")
    op.execute("ALTER TABLE part ADD COLUMN place JSON NOT NULL DEFAULT '{}'")
    op.execute("ALTER TABLE part ADD COLUMN hidden_at DATETIME")
    for table in ('project', 'assembly'):
        op.execute(f"ALTER TABLE {table} ADD COLUMN version INTEGER NOT NULL DEFAULT 1")
        op.execute(f"ALTER TABLE {table} ADD COLUMN updated_at DATETIME NOT NULL DEFAULT '2026-11-26 00:00:00.000000'")
    op.execute("ALTER TABLE project ADD COLUMN rank INTEGER NOT NULL DEFAULT 0")
    op.execute("ALTER TABLE shop ADD COLUMN skipped JSON NOT NULL DEFAULT '[]'")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

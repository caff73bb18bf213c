"""A shape is a loft by its stations; what a part is built from is a table of links"""

import json

import sqlalchemy as sa
from alembic import op

revision = '0009'
down_revision = '0008'
branch_labels = None
depends_on = None


def upgrade() -> None:
    connection = op.get_bind()
    op.execute("ALTER TABLE shape ADD COLUMN stations JSON NOT NULL DEFAULT '[]'")
    panels = connection.execute(
        sa.text("SELECT id, span_m, root_chord_m, tip_chord_m, sweep_m, root_section, tip_section FROM shape")
    ).fetchall()
    for key, span, root, tip, sweep, at_root, at_tip in panels:
        # Written by Python, which keeps every digit of a number.
        stations = [
            {'along_m': 0.0, 'chord_m': root, 'leading_m': 0.0, 'section': json.loads(at_root)},
            {'along_m': span, 'chord_m': tip, 'leading_m': sweep, 'section': json.loads(at_tip)},
        ]
        connection.execute(
            sa.text("UPDATE shape SET stations = :stations WHERE id = :id"),
            {'stations': json.dumps(stations), 'id': key},
        )
    for column in ('span_m', 'root_chord_m', 'tip_chord_m', 'sweep_m', 'root_section', 'tip_section'):
        op.execute(f"ALTER TABLE shape DROP COLUMN {column}")
    op.execute("""
        CREATE TABLE link (
            part_id VARCHAR NOT NULL,
            rank INTEGER NOT NULL,
            step_key VARCHAR NOT NULL,
            other_id VARCHAR NOT NULL,
            CONSTRAINT pk_link PRIMARY KEY (part_id, rank),
            CONSTRAINT fk_link_part_id FOREIGN KEY(part_id) REFERENCES part (id),
            CONSTRAINT fk_link_other_id FOREIGN KEY(other_id) REFERENCES part (id)
        )""")
    op.execute("CREATE INDEX ix_link_other_id ON link (other_id)")
    op.execute("""
        INSERT INTO link (part_id, rank, step_key, other_id)
        SELECT part.id, said."key", json_extract(said.value, '$.step'), json_extract(said.value, '$.part_id')
        FROM part, json_each(part.after) AS said
        WHERE json_extract(said.value, '$.part_id') IN (SELECT id FROM part)""")
    op.execute("ALTER TABLE part DROP COLUMN after")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

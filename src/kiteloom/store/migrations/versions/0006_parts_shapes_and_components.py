"""Words: a surface is a part, a form is a shape, and what a lot or a pump is of is a component"""

from alembic import op

revision = '0006'
down_revision = '0005'
branch_labels = None
depends_on = None

#: Tables that name a part; those with an index on it.
OF_PART = ('batch', 'batch_note', 'delivery', 'heating', 'part_place', 'part_temperature', 'pin', 'reading', 'tick', 'witness', 'work')
NOT_INDEXED = ('batch_note',)


def _part_made_anew() -> None:
    """A part may be in the centre, and several identical ones may share a design."""
    op.execute("""
        CREATE TABLE new_part (
            id VARCHAR(36) NOT NULL,
            assembly_id VARCHAR(36) NOT NULL,
            design_id VARCHAR(36) NOT NULL,
            hand VARCHAR NOT NULL,
            name VARCHAR NOT NULL,
            rank INTEGER NOT NULL,
            after JSON NOT NULL,
            thing VARCHAR NOT NULL,
            version INTEGER NOT NULL,
            updated_at DATETIME NOT NULL,
            CONSTRAINT pk_part PRIMARY KEY (id),
            CONSTRAINT ck_part_hand CHECK (hand IN ('left','right','centre')),
            CONSTRAINT fk_part_assembly_id FOREIGN KEY(assembly_id) REFERENCES assembly (id),
            CONSTRAINT fk_part_design_id FOREIGN KEY(design_id) REFERENCES design (id)
        )""")
    columns = "id, assembly_id, design_id, hand, name, rank, after, thing, version, updated_at"
    op.execute(f"INSERT INTO new_part ({columns}) SELECT {columns} FROM part")
    op.execute("DROP TABLE part")
    op.execute("ALTER TABLE new_part RENAME TO part")


def upgrade() -> None:
    op.execute("ALTER TABLE surface RENAME TO part")
    _part_made_anew()
    op.execute("ALTER TABLE form RENAME TO shape")
    op.execute("ALTER TABLE design RENAME COLUMN form_id TO shape_id")
    for table in ('lot', 'pump'):
        op.execute(f"ALTER TABLE {table} RENAME COLUMN part TO component")
    for table in OF_PART:
        op.execute(f"ALTER TABLE {table} RENAME COLUMN surface_id TO part_id")
        if table not in NOT_INDEXED:
            op.execute(f"DROP INDEX ix_{table}_surface_id")
            op.execute(f"CREATE INDEX ix_{table}_part_id ON {table} (part_id)")
    op.execute("""UPDATE part SET after = replace(after, '"surface_id"', '"part_id"')""")
    for old, new in (('surface', 'part'), ('form', 'shape')):
        op.execute(f"UPDATE edit SET \"table\" = '{new}' WHERE \"table\" = '{old}'")
    op.execute("UPDATE alert SET link = '/part/' || substr(link, 10) WHERE link LIKE '/surface/%'")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

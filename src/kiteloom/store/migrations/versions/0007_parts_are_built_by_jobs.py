"""A part is built by several jobs in order, each with its own products; what was one recipe is the job of key ''"""

import json

import sqlalchemy as sa
from alembic import op

revision = '0007'
down_revision = '0006'
branch_labels = None
depends_on = None

#: What a recipe was called → its key, the role its one product was in, and the names of what it is given.
RECIPES = {
    'bagged sandwich skin': ('skin', 'resin', {}),
    'foam core skinned on two sides': ('foam', 'resin', {}),
    'spar cap in two stages': ('cap', 'resin', {'cap_length_m': 'length_m', 'cap_width_m': 'width_m'}),
    'glued wood frame': ('frame', 'glue', {}),
    'bonding with paste': (
        'bond', 'paste',
        {'bond_length_m': 'length_m', 'bond_width_m': 'width_m', 'bond_thickness_mm': 'thickness_mm'},
    ),
    'two coats of varnish': ('varnish', 'varnish', {}),
    'filling and fairing': ('fair', 'filler', {}),
}


def upgrade() -> None:
    op.execute("""
        CREATE TABLE job (
            id VARCHAR(36) NOT NULL,
            design_id VARCHAR(36),
            part_id VARCHAR(36),
            "key" VARCHAR NOT NULL,
            rank INTEGER NOT NULL,
            recipe VARCHAR NOT NULL,
            given JSON NOT NULL,
            ply_book JSON NOT NULL,
            losses JSON NOT NULL,
            step_edits JSON NOT NULL,
            hidden_at DATETIME,
            version INTEGER NOT NULL,
            updated_at DATETIME NOT NULL,
            CONSTRAINT pk_job PRIMARY KEY (id),
            CONSTRAINT ck_job_of_one CHECK ((design_id IS NULL) <> (part_id IS NULL)),
            CONSTRAINT fk_job_design_id FOREIGN KEY(design_id) REFERENCES design (id),
            CONSTRAINT fk_job_part_id FOREIGN KEY(part_id) REFERENCES part (id)
        )""")
    op.execute("CREATE INDEX ix_job_design_id ON job (design_id)")
    op.execute("CREATE INDEX ix_job_part_id ON job (part_id)")
    op.execute("""
        CREATE TABLE job_product (
            job_id VARCHAR NOT NULL,
            role VARCHAR NOT NULL,
            data_sheet_id VARCHAR NOT NULL,
            CONSTRAINT pk_job_product PRIMARY KEY (job_id, role),
            CONSTRAINT fk_job_product_job_id FOREIGN KEY(job_id) REFERENCES job (id),
            CONSTRAINT fk_job_product_data_sheet_id FOREIGN KEY(data_sheet_id) REFERENCES data_sheet (id)
        )""")
    op.execute("CREATE INDEX ix_job_product_data_sheet_id ON job_product (data_sheet_id)")
    # The job has its design's id and the key '': keys of steps stay as they are, and no fact is touched.
    op.execute("""
        INSERT INTO job (id, design_id, part_id, "key", rank, recipe, given, ply_book, losses, step_edits, hidden_at,
                         version, updated_at)
        SELECT id, id, NULL, '', 0, recipe, parameters, ply_book, losses, step_edits, NULL, version, updated_at
        FROM design""")
    op.execute("""
        INSERT INTO job_product (job_id, role, data_sheet_id) SELECT id, 'resin', resin_sheet_id FROM design""")
    connection = op.get_bind()
    for key, name, given in connection.execute(sa.text("SELECT id, recipe, given FROM job")).fetchall():
        recipe, role, called = RECIPES.get(name, (name, 'resin', {}))
        says = {called.get(old, old): value for old, value in json.loads(given or '{}').items()}
        connection.execute(
            sa.text("UPDATE job SET recipe = :recipe, given = :given WHERE id = :id"),
            {'recipe': recipe, 'given': json.dumps(says), 'id': key},
        )
        connection.execute(sa.text("UPDATE job_product SET role = :role WHERE job_id = :id"), {'role': role, 'id': key})
    op.execute("UPDATE edit SET \"table\" = 'job' WHERE \"table\" = 'design'")
    op.execute("""
        CREATE TABLE new_design (
            id VARCHAR(36) NOT NULL,
            shape_id VARCHAR(36),
            name VARCHAR NOT NULL,
            side VARCHAR NOT NULL,
            version INTEGER NOT NULL,
            updated_at DATETIME NOT NULL,
            CONSTRAINT pk_design PRIMARY KEY (id),
            CONSTRAINT ck_design_side CHECK (side IN ('upper','lower','whole')),
            CONSTRAINT fk_design_shape_id FOREIGN KEY(shape_id) REFERENCES shape (id)
        )""")
    op.execute("""
        INSERT INTO new_design (id, shape_id, name, side, version, updated_at)
        SELECT id, shape_id, name, CASE WHEN side IN ('upper','lower') THEN side ELSE 'whole' END, version, updated_at
        FROM design""")
    op.execute("DROP TABLE design")
    op.execute("ALTER TABLE new_design RENAME TO design")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

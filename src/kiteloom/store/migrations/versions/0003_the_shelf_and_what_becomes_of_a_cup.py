"""The shelf, and what becomes of a cup"""

import sqlalchemy as sa
from alembic import op

revision = '0003'
down_revision = '0002'
branch_labels = None
depends_on = None

APPEND_ONLY = ("lot_note", "pump", "batch_note", "photo", "witness", "part_place", "part_temperature", "heating")


def _guard(table: str) -> None:
    for verb in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER {table}_no_{verb.lower()} BEFORE {verb} ON {table} "
            "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
        )


def _fact(table: str, *columns: sa.schema.SchemaItem) -> None:
    op.create_table(
        table,
        sa.Column('id', sa.String(length=36), nullable=False),
        *columns,
        sa.Column('happened_at', sa.DateTime(), nullable=False),
        sa.Column('recorded_at', sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint('id', name=op.f(f'pk_{table}')),
    )
    op.create_index(op.f(f'ix_{table}_happened_at'), table, ['happened_at'])
    _guard(table)


def _refers(table: str, column: str, to: str) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint([column], [f'{to}.id'], name=op.f(f'fk_{table}_{column}'))


def _one_of(table: str, column: str, *values: str) -> sa.CheckConstraint:
    among = ",".join(f"'{value}'" for value in values)
    return sa.CheckConstraint(f"{column} IN ({among})", name=op.f(f'ck_{table}_{column}'))


def _key(name: str, nullable: bool = False) -> sa.Column[str]:
    return sa.Column(name, sa.String(length=36), nullable=nullable)


def _note() -> sa.Column[str]:
    return sa.Column('note', sa.String(), nullable=False)


def _volume_ratios_apart() -> None:
    """A sheet may now give both ratios: the one by volume has a place of its own."""
    connection = op.get_bind()
    sheets = sa.table('data_sheet', sa.column('id', sa.String), sa.column('says', sa.JSON))
    for key, says in connection.execute(sa.select(sheets.c.id, sheets.c.says)).all():
        if (says.get('ratio') or {}).get('basis') == 'volume':
            moved = {'ratio_by_volume' if name == 'ratio' else name: value for name, value in says.items()}
            connection.execute(sheets.update().where(sheets.c.id == key).values(says=moved))


def upgrade() -> None:
    _volume_ratios_apart()
    op.add_column('data_sheet', sa.Column('hidden_at', sa.DateTime(), nullable=True))
    op.add_column('lot', sa.Column('part', sa.String(), nullable=False, server_default='both'))
    op.add_column('lot', sa.Column('received_g', sa.Double(), nullable=True))
    for column in ('rh_pct', 'margin_k'):
        op.add_column('batch', sa.Column(column, sa.Double(), nullable=True))
    op.execute("ALTER TABLE batch ADD COLUMN hardener_lot_id VARCHAR(36) REFERENCES lot (id)")
    _fact(
        'lot_note',
        _key('lot_id'),
        sa.Column('kind', sa.String(), nullable=False),
        sa.Column('grams', sa.Double(), nullable=True),
        _note(),
        _one_of('lot_note', 'kind', 'opened', 'bad', 'cleared', 'counted'),
        _refers('lot_note', 'lot_id', 'lot'),
    )
    op.create_index(op.f('ix_lot_note_lot_id'), 'lot_note', ['lot_id'])
    _fact(
        'pump',
        _key('data_sheet_id'),
        sa.Column('part', sa.String(), nullable=False),
        sa.Column('strokes', sa.Integer(), nullable=False),
        sa.Column('grams', sa.Double(), nullable=False),
        _one_of('pump', 'part', 'resin', 'hardener'),
        _refers('pump', 'data_sheet_id', 'data_sheet'),
    )
    op.create_index(op.f('ix_pump_data_sheet_id'), 'pump', ['data_sheet_id'])
    _fact(
        'batch_note',
        _key('batch_id'),
        sa.Column('kind', sa.String(), nullable=False),
        _key('surface_id', nullable=True),
        sa.Column('step_key', sa.String(), nullable=False),
        sa.Column('grams', sa.Double(), nullable=True),
        _note(),
        _one_of('batch_note', 'kind', 'on', 'emptied', 'bad', 'cleared'),
        _refers('batch_note', 'batch_id', 'batch'),
        _refers('batch_note', 'surface_id', 'surface'),
    )
    op.create_index(op.f('ix_batch_note_batch_id'), 'batch_note', ['batch_id'])
    _fact(
        'photo',
        _key('batch_id'),
        sa.Column('media', sa.String(), nullable=False),
        sa.Column('data', sa.LargeBinary(), nullable=False),
        _refers('photo', 'batch_id', 'batch'),
    )
    op.create_index(op.f('ix_photo_batch_id'), 'photo', ['batch_id'])
    _fact(
        'witness',
        _key('corrects_id', nullable=True),
        _key('surface_id'),
        sa.Column('step_key', sa.String(), nullable=False),
        _key('batch_id', nullable=True),
        sa.Column('kind', sa.String(), nullable=False),
        sa.Column('value', sa.Double(), nullable=True),
        sa.Column('passes', sa.Boolean(), nullable=False),
        _key('crew_member_id', nullable=True),
        _note(),
        _one_of('witness', 'kind', 'thumbnail', 'hardness', 'tap', 'decision'),
        _refers('witness', 'corrects_id', 'witness'),
        _refers('witness', 'surface_id', 'surface'),
        _refers('witness', 'batch_id', 'batch'),
        _refers('witness', 'crew_member_id', 'crew_member'),
        sa.UniqueConstraint('corrects_id', name=op.f('uq_witness_corrects_id')),
    )
    op.create_index(op.f('ix_witness_surface_id'), 'witness', ['surface_id'])
    _fact(
        'part_place',
        _key('surface_id'),
        sa.Column('zone_id', sa.String(), nullable=False),
        _refers('part_place', 'surface_id', 'surface'),
        _refers('part_place', 'zone_id', 'zone'),
    )
    op.create_index(op.f('ix_part_place_surface_id'), 'part_place', ['surface_id'])
    _fact(
        'part_temperature',
        _key('surface_id'),
        sa.Column('temp_c', sa.Double(), nullable=False),
        sa.Column('source', sa.String(), nullable=False),
        _one_of('part_temperature', 'source', 'probe', 'typed'),
        _refers('part_temperature', 'surface_id', 'surface'),
    )
    op.create_index(op.f('ix_part_temperature_surface_id'), 'part_temperature', ['surface_id'])
    _fact(
        'heating',
        _key('undoes_id', nullable=True),
        _key('surface_id'),
        sa.Column('legs', sa.JSON(), nullable=False),
        _refers('heating', 'undoes_id', 'heating'),
        _refers('heating', 'surface_id', 'surface'),
        sa.UniqueConstraint('undoes_id', name=op.f('uq_heating_undoes_id')),
    )
    op.create_index(op.f('ix_heating_surface_id'), 'heating', ['surface_id'])
    # A cup's clock is a new kind of alert; the table is made anew and its rows moved.
    op.execute("ALTER TABLE alert RENAME TO alert_before")
    op.create_table(
        'alert',
        sa.Column('id', sa.Integer(), autoincrement=True, nullable=False),
        *(sa.Column(name, sa.String(), nullable=False) for name in ('kind', 'about', 'link', 'words')),
        sa.Column('happened_at', sa.DateTime(), nullable=False),
        sa.Column('recorded_at', sa.DateTime(), nullable=False),
        sa.Column('silenced_at', sa.DateTime(), nullable=True),
        _one_of('alert', 'kind', 'stage', 'stalled', 'dew', 'silent', 'cup'),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_alert')),
        sa.UniqueConstraint('about', name=op.f('uq_alert_about')),
    )
    op.execute("INSERT INTO alert SELECT * FROM alert_before")
    op.execute("DROP TABLE alert_before")


def downgrade() -> None:
    raise NotImplementedError("what became of a cup can't be put back into the house before; restore a backup")

"""People and their hours, pins, deliveries, plans that were kept"""

import sqlalchemy as sa
from alembic import op

revision = '0004'
down_revision = '0003'
branch_labels = None
depends_on = None

LONG_AGO = sa.text("'2026-01-01 00:00:00'")


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
    for verb in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER {table}_no_{verb.lower()} BEFORE {verb} ON {table} "
            "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
        )


def _refers(table: str, column: str, to: str) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint([column], [f'{to}.id'], name=op.f(f'fk_{table}_{column}'))


def _of_step(table: str) -> tuple[sa.schema.SchemaItem, ...]:
    return (
        sa.Column('surface_id', sa.String(length=36), nullable=False),
        sa.Column('step_key', sa.String(), nullable=False),
        _refers(table, 'surface_id', 'surface'),
    )


def _by_surface(table: str) -> None:
    op.create_index(op.f(f'ix_{table}_surface_id'), table, ['surface_id'])


def upgrade() -> None:
    op.add_column('shop', sa.Column('planning', sa.JSON(), nullable=False, server_default='{}'))
    op.add_column('surface', sa.Column('after', sa.JSON(), nullable=False, server_default='[]'))
    op.add_column('surface', sa.Column('thing', sa.String(), nullable=False, server_default=''))
    for table in ('crew_member', 'station'):
        op.add_column(table, sa.Column('version', sa.Integer(), nullable=False, server_default='1'))
        op.add_column(table, sa.Column('updated_at', sa.DateTime(), nullable=False, server_default=LONG_AGO))
        op.add_column(table, sa.Column('hidden_at', sa.DateTime(), nullable=True))
    for column in ('skills', 'hours'):
        op.add_column('crew_member', sa.Column(column, sa.JSON(), nullable=False, server_default='[]'))
    op.execute("ALTER TABLE station ADD COLUMN zone_id VARCHAR REFERENCES zone (id)")
    op.create_table(
        'absence',
        sa.Column('id', sa.String(length=36), nullable=False),
        sa.Column('crew_member_id', sa.String(length=36), nullable=False),
        sa.Column('start', sa.DateTime(), nullable=False),
        sa.Column('end', sa.DateTime(), nullable=False),
        sa.Column('note', sa.String(), nullable=False),
        sa.Column('recorded_at', sa.DateTime(), nullable=False),
        sa.Column('hidden_at', sa.DateTime(), nullable=True),
        _refers('absence', 'crew_member_id', 'crew_member'),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_absence')),
    )
    op.create_index(op.f('ix_absence_crew_member_id'), 'absence', ['crew_member_id'])
    op.create_table(
        'delivery',
        sa.Column('id', sa.String(length=36), nullable=False),
        *_of_step('delivery'),
        sa.Column('what', sa.String(), nullable=False),
        sa.Column('expected_on', sa.Date(), nullable=False),
        sa.Column('arrived_at', sa.DateTime(), nullable=True),
        sa.Column('hidden_at', sa.DateTime(), nullable=True),
        sa.Column('version', sa.Integer(), nullable=False),
        sa.Column('updated_at', sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_delivery')),
    )
    _by_surface('delivery')
    _fact(
        'pin',
        *_of_step('pin'),
        sa.Column('start', sa.DateTime(), nullable=True),
        sa.Column('crew', sa.JSON(), nullable=False),
    )
    _by_surface('pin')
    _fact(
        'kept_plan',
        sa.Column('kind', sa.String(), nullable=False),
        sa.Column('rows', sa.JSON(), nullable=False),
        sa.Column('finish', sa.DateTime(), nullable=True),
        sa.CheckConstraint("kind IN ('accepted','evening')", name=op.f('ck_kept_plan_kind')),
    )
    _fact('tick', *_of_step('tick'), sa.Column('item', sa.String(), nullable=False), sa.Column('done', sa.Boolean(), nullable=False))
    _by_surface('tick')
    _fact(
        'reading',
        sa.Column('corrects_id', sa.String(length=36), nullable=True),
        *_of_step('reading'),
        sa.Column('found', sa.Double(), nullable=False),
        sa.Column('note', sa.String(), nullable=False),
        _refers('reading', 'corrects_id', 'reading'),
        sa.UniqueConstraint('corrects_id', name=op.f('uq_reading_corrects_id')),
    )
    _by_surface('reading')


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

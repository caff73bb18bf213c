"""Work, zones, and what a probe reads"""

import sqlalchemy as sa
from alembic import op

revision = '0002'
down_revision = '0001'
branch_labels = None
depends_on = None

APPEND_ONLY = ("work", "temperature", "forecast")


def _guard(table: str) -> None:
    for verb in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER {table}_no_{verb.lower()} BEFORE {verb} ON {table} "
            "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
        )


def upgrade() -> None:
    op.create_table(
        'station',
        sa.Column('id', sa.String(), nullable=False),
        sa.Column('name', sa.String(), nullable=False),
        sa.Column('capacity', sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_station')),
    )
    op.create_table(
        'zone',
        sa.Column('id', sa.String(), nullable=False),
        sa.Column('name', sa.String(), nullable=False),
        sa.Column('rank', sa.Integer(), nullable=False),
        sa.Column('lag_h', sa.Double(), nullable=False),
        sa.Column('gain_k', sa.Double(), nullable=False),
        sa.Column('heat_c', sa.Double(), nullable=True),
        sa.Column('heat_from', sa.Integer(), nullable=False),
        sa.Column('heat_to', sa.Integer(), nullable=False),
        sa.Column('version', sa.Integer(), nullable=False),
        sa.Column('updated_at', sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_zone')),
    )
    op.create_table(
        'work',
        sa.Column('id', sa.String(length=36), nullable=False),
        sa.Column('undoes_id', sa.String(length=36), nullable=True),
        sa.Column('surface_id', sa.String(length=36), nullable=False),
        sa.Column('step_key', sa.String(), nullable=False),
        sa.Column('step_name', sa.String(), nullable=False),
        sa.Column('kind', sa.String(), nullable=False),
        sa.Column('estimate_min', sa.Double(), nullable=False),
        sa.Column('crew', sa.JSON(), nullable=False),
        sa.Column('happened_at', sa.DateTime(), nullable=False),
        sa.Column('recorded_at', sa.DateTime(), nullable=False),
        sa.CheckConstraint("kind IN ('start','pause','finish','undo')", name=op.f('ck_work_kind')),
        sa.ForeignKeyConstraint(['surface_id'], ['surface.id'], name=op.f('fk_work_surface_id')),
        sa.ForeignKeyConstraint(['undoes_id'], ['work.id'], name=op.f('fk_work_undoes_id')),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_work')),
        sa.UniqueConstraint('undoes_id', name=op.f('uq_work_undoes_id')),
    )
    op.create_index(op.f('ix_work_surface_id'), 'work', ['surface_id'])
    op.create_index(op.f('ix_work_happened_at'), 'work', ['happened_at'])
    op.create_table(
        'forecast',
        sa.Column('id', sa.String(length=36), nullable=False),
        sa.Column('days', sa.JSON(), nullable=False),
        sa.Column('happened_at', sa.DateTime(), nullable=False),
        sa.Column('recorded_at', sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_forecast')),
    )
    op.create_index(op.f('ix_forecast_happened_at'), 'forecast', ['happened_at'])
    op.create_table(
        'alert',
        sa.Column('id', sa.Integer(), autoincrement=True, nullable=False),
        sa.Column('kind', sa.String(), nullable=False),
        sa.Column('about', sa.String(), nullable=False),
        sa.Column('link', sa.String(), nullable=False),
        sa.Column('words', sa.String(), nullable=False),
        sa.Column('happened_at', sa.DateTime(), nullable=False),
        sa.Column('recorded_at', sa.DateTime(), nullable=False),
        sa.Column('silenced_at', sa.DateTime(), nullable=True),
        sa.CheckConstraint("kind IN ('stage','stalled','dew','silent')", name=op.f('ck_alert_kind')),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_alert')),
        sa.UniqueConstraint('about', name=op.f('uq_alert_about')),
    )
    for column in ('parameters', 'step_edits'):
        op.add_column('design', sa.Column(column, sa.JSON(), nullable=False, server_default='{}'))
    # A probe's reading belongs to no file: the table is made anew and its rows moved, its guards with it.
    op.execute("ALTER TABLE temperature RENAME TO temperature_before")
    op.create_table(
        'temperature',
        sa.Column('zone', sa.String(), nullable=False),
        sa.Column('happened_at', sa.DateTime(), nullable=False),
        sa.Column('temp_c', sa.Double(), nullable=False),
        sa.Column('rh_pct', sa.Double(), nullable=True),
        sa.Column('source', sa.String(), nullable=False),
        sa.Column('import_id', sa.String(length=36), nullable=True),
        sa.CheckConstraint("source IN ('probe','imported')", name=op.f('ck_temperature_source')),
        sa.ForeignKeyConstraint(
            ['import_id'], ['temperature_import.id'], name=op.f('fk_temperature_import_id')
        ),
        sa.PrimaryKeyConstraint('zone', 'happened_at', name=op.f('pk_temperature')),
    )
    op.execute(
        "INSERT INTO temperature (zone, happened_at, temp_c, source, import_id) "
        "SELECT zone, happened_at, temp_c, 'imported', import_id FROM temperature_before"
    )
    op.execute("DROP TABLE temperature_before")
    for table in APPEND_ONLY:
        _guard(table)


def downgrade() -> None:
    raise NotImplementedError("what a probe read can't be put back into the first house; restore a backup")

"""The first house: who is who"""

import sqlalchemy as sa
from alembic import op

revision = '0001'
down_revision = None
branch_labels = None
depends_on = None

#: What happened is never changed and never deleted: the file itself refuses it.
APPEND_ONLY = ("batch", "temperature", "temperature_import", "outlook")


def upgrade() -> None:
    op.create_table('change',
    sa.Column('seq', sa.Integer(), autoincrement=True, nullable=False),
    sa.Column('topic', sa.String(), nullable=False),
    sa.Column('ref', sa.String(), nullable=False),
    sa.PrimaryKeyConstraint('seq', name=op.f('pk_change')),
    sqlite_autoincrement=True
    )
    op.create_table('crew_member',
    sa.Column('id', sa.String(length=36), nullable=False),
    sa.Column('name', sa.String(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_crew_member'))
    )
    op.create_table('data_sheet',
    sa.Column('id', sa.String(length=36), nullable=False),
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('says', sa.JSON(), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('updated_at', sa.DateTime(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_data_sheet'))
    )
    op.create_table('edit',
    sa.Column('table', sa.String(), nullable=False),
    sa.Column('ref', sa.String(), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('words', sa.JSON(), nullable=False),
    sa.Column('recorded_at', sa.DateTime(), nullable=False),
    sa.PrimaryKeyConstraint('table', 'ref', 'version', name=op.f('pk_edit'))
    )
    op.create_table('form',
    sa.Column('id', sa.String(length=36), nullable=False),
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('span_m', sa.Double(), nullable=False),
    sa.Column('root_chord_m', sa.Double(), nullable=False),
    sa.Column('tip_chord_m', sa.Double(), nullable=False),
    sa.Column('sweep_m', sa.Double(), nullable=False),
    sa.Column('root_section', sa.JSON(), nullable=False),
    sa.Column('tip_section', sa.JSON(), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('updated_at', sa.DateTime(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_form'))
    )
    op.create_table('outlook',
    sa.Column('id', sa.String(length=36), nullable=False),
    sa.Column('zone', sa.String(), nullable=False),
    sa.Column('low_c', sa.Double(), nullable=False),
    sa.Column('high_c', sa.Double(), nullable=False),
    sa.Column('happened_at', sa.DateTime(), nullable=False),
    sa.Column('recorded_at', sa.DateTime(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_outlook'))
    )
    with op.batch_alter_table('outlook', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_outlook_happened_at'), ['happened_at'], unique=False)

    op.create_table('project',
    sa.Column('id', sa.String(length=36), nullable=False),
    sa.Column('name', sa.String(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_project'))
    )
    op.create_table('shop',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('zone', sa.String(), nullable=False),
    sa.Column('units', sa.String(), nullable=False),
    sa.Column('hours', sa.JSON(), nullable=False),
    sa.Column('closed', sa.JSON(), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('updated_at', sa.DateTime(), nullable=False),
    sa.CheckConstraint("units IN ('metric','us')", name=op.f('ck_shop_units')),
    sa.CheckConstraint('id = 1', name=op.f('ck_shop_one')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_shop'))
    )
    op.create_table('temperature_import',
    sa.Column('id', sa.String(length=36), nullable=False),
    sa.Column('zone', sa.String(), nullable=False),
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('rows_read', sa.Integer(), nullable=False),
    sa.Column('rows_new', sa.Integer(), nullable=False),
    sa.Column('happened_at', sa.DateTime(), nullable=False),
    sa.Column('recorded_at', sa.DateTime(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_temperature_import'))
    )
    with op.batch_alter_table('temperature_import', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_temperature_import_happened_at'), ['happened_at'], unique=False)

    op.create_table('assembly',
    sa.Column('id', sa.String(length=36), nullable=False),
    sa.Column('project_id', sa.String(length=36), nullable=False),
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('rank', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['project_id'], ['project.id'], name=op.f('fk_assembly_project_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_assembly'))
    )
    op.create_table('design',
    sa.Column('id', sa.String(length=36), nullable=False),
    sa.Column('form_id', sa.String(length=36), nullable=False),
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('side', sa.String(), nullable=False),
    sa.Column('recipe', sa.String(), nullable=False),
    sa.Column('resin_sheet_id', sa.String(length=36), nullable=False),
    sa.Column('ply_book', sa.JSON(), nullable=False),
    sa.Column('losses', sa.JSON(), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('updated_at', sa.DateTime(), nullable=False),
    sa.ForeignKeyConstraint(['form_id'], ['form.id'], name=op.f('fk_design_form_id')),
    sa.ForeignKeyConstraint(['resin_sheet_id'], ['data_sheet.id'], name=op.f('fk_design_resin_sheet_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_design'))
    )
    op.create_table('lot',
    sa.Column('id', sa.String(length=36), nullable=False),
    sa.Column('data_sheet_id', sa.String(length=36), nullable=False),
    sa.Column('lot_number', sa.String(), nullable=False),
    sa.Column('received_on', sa.Date(), nullable=False),
    sa.Column('expires_on', sa.Date(), nullable=True),
    sa.ForeignKeyConstraint(['data_sheet_id'], ['data_sheet.id'], name=op.f('fk_lot_data_sheet_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_lot'))
    )
    op.create_table('temperature',
    sa.Column('zone', sa.String(), nullable=False),
    sa.Column('happened_at', sa.DateTime(), nullable=False),
    sa.Column('temp_c', sa.Double(), nullable=False),
    sa.Column('import_id', sa.String(length=36), nullable=False),
    sa.ForeignKeyConstraint(['import_id'], ['temperature_import.id'], name=op.f('fk_temperature_import_id')),
    sa.PrimaryKeyConstraint('zone', 'happened_at', name=op.f('pk_temperature'))
    )
    op.create_table('surface',
    sa.Column('id', sa.String(length=36), nullable=False),
    sa.Column('assembly_id', sa.String(length=36), nullable=False),
    sa.Column('design_id', sa.String(length=36), nullable=False),
    sa.Column('hand', sa.String(), nullable=False),
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('rank', sa.Integer(), nullable=False),
    sa.CheckConstraint("hand IN ('left','right')", name=op.f('ck_surface_hand')),
    sa.ForeignKeyConstraint(['assembly_id'], ['assembly.id'], name=op.f('fk_surface_assembly_id')),
    sa.ForeignKeyConstraint(['design_id'], ['design.id'], name=op.f('fk_surface_design_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_surface')),
    sa.UniqueConstraint('design_id', 'hand', name=op.f('uq_surface_design_id'))
    )
    op.create_table('batch',
    sa.Column('id', sa.String(length=36), nullable=False),
    sa.Column('corrects_id', sa.String(length=36), nullable=True),
    sa.Column('surface_id', sa.String(length=36), nullable=False),
    sa.Column('step_key', sa.String(), nullable=False),
    sa.Column('step_name', sa.String(), nullable=False),
    sa.Column('data_sheet_id', sa.String(length=36), nullable=False),
    sa.Column('product', sa.String(), nullable=False),
    sa.Column('says', sa.JSON(), nullable=False),
    sa.Column('lot_id', sa.String(length=36), nullable=True),
    sa.Column('crew_member_id', sa.String(length=36), nullable=True),
    sa.Column('wanted_g', sa.Double(), nullable=False),
    sa.Column('resin_g', sa.Double(), nullable=False),
    sa.Column('hardener_g', sa.Double(), nullable=False),
    sa.Column('deviation_pct', sa.Double(), nullable=True),
    sa.Column('verdict', sa.String(), nullable=False),
    sa.Column('temp_c', sa.Double(), nullable=True),
    sa.Column('note', sa.String(), nullable=False),
    sa.Column('happened_at', sa.DateTime(), nullable=False),
    sa.Column('recorded_at', sa.DateTime(), nullable=False),
    sa.CheckConstraint("verdict IN ('in','near','out')", name=op.f('ck_batch_verdict')),
    sa.CheckConstraint('resin_g >= 0 AND hardener_g >= 0 AND resin_g + hardener_g > 0', name=op.f('ck_batch_masses')),
    sa.ForeignKeyConstraint(['corrects_id'], ['batch.id'], name=op.f('fk_batch_corrects_id')),
    sa.ForeignKeyConstraint(['crew_member_id'], ['crew_member.id'], name=op.f('fk_batch_crew_member_id')),
    sa.ForeignKeyConstraint(['data_sheet_id'], ['data_sheet.id'], name=op.f('fk_batch_data_sheet_id')),
    sa.ForeignKeyConstraint(['lot_id'], ['lot.id'], name=op.f('fk_batch_lot_id')),
    sa.ForeignKeyConstraint(['surface_id'], ['surface.id'], name=op.f('fk_batch_surface_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_batch')),
    sa.UniqueConstraint('corrects_id', name=op.f('uq_batch_corrects_id'))
    )
    with op.batch_alter_table('batch', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_batch_happened_at'), ['happened_at'], unique=False)
        batch_op.create_index(batch_op.f('ix_batch_surface_id'), ['surface_id'], unique=False)

    for table in APPEND_ONLY:
        for verb in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{verb.lower()} BEFORE {verb} ON {table} "
                "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
            )


def downgrade() -> None:
    with op.batch_alter_table('batch', schema=None) as batch_op:
        batch_op.drop_index(batch_op.f('ix_batch_surface_id'))
        batch_op.drop_index(batch_op.f('ix_batch_happened_at'))

    op.drop_table('batch')
    op.drop_table('surface')
    op.drop_table('temperature')
    op.drop_table('lot')
    op.drop_table('design')
    op.drop_table('assembly')
    with op.batch_alter_table('temperature_import', schema=None) as batch_op:
        batch_op.drop_index(batch_op.f('ix_temperature_import_happened_at'))

    op.drop_table('temperature_import')
    op.drop_table('shop')
    op.drop_table('project')
    with op.batch_alter_table('outlook', schema=None) as batch_op:
        batch_op.drop_index(batch_op.f('ix_outlook_happened_at'))

    op.drop_table('outlook')
    op.drop_table('form')
    op.drop_table('edit')
    op.drop_table('data_sheet')
    op.drop_table('crew_member')
    op.drop_table('change')

"""What a part is built from can be said: surfaces are edited in place"""

import sqlalchemy as sa
from alembic import op

revision = '0005'
down_revision = '0004'
branch_labels = None
depends_on = None

LONG_AGO = sa.text("'2026-01-01 00:00:00'")


def upgrade() -> None:
    op.add_column('surface', sa.Column('version', sa.Integer(), nullable=False, server_default='1'))
    op.add_column('surface', sa.Column('updated_at', sa.DateTime(), nullable=False, server_default=LONG_AGO))


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

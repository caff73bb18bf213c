"""When a lot was made: makers count from then"""

from alembic import op

revision = '0010'
down_revision = '0009'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("ALTER TABLE lot ADD COLUMN made_on DATE")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

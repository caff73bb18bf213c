"""How the shop writes times and dates"""

from alembic import op

revision = '0021'
down_revision = '0020'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("ALTER TABLE shop ADD COLUMN clock VARCHAR NOT NULL DEFAULT '24'")
    op.execute("ALTER TABLE shop ADD COLUMN dates VARCHAR NOT NULL DEFAULT 'day'")
    op.execute("UPDATE shop SET dates = 'month' WHERE units = 'us'")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

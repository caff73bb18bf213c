"""Whether a typed low and high are the room's, or the weather's outside"""

from alembic import op

revision = '0015'
down_revision = '0014'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("ALTER TABLE outlook ADD COLUMN place VARCHAR NOT NULL DEFAULT 'room'")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

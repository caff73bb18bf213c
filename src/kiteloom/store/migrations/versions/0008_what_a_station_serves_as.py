"""A station says what it serves as; those there are serve as what they are called by"""

from alembic import op

revision = '0008'
down_revision = '0007'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("ALTER TABLE station ADD COLUMN serves JSON NOT NULL DEFAULT '[]'")
    op.execute("UPDATE station SET serves = json_array(id)")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

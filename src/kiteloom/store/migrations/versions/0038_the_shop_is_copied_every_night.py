"""That the shop was copied, or could not be, is written down.

Revision ID: 0038
Revises: 0037
"""

from alembic import op

revision = '0038'
down_revision = '0037'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("""CREATE TABLE shop_copy (
        id VARCHAR(36) NOT NULL, path VARCHAR NOT NULL, size INTEGER NOT NULL, failed VARCHAR DEFAULT '' NOT NULL,
        happened_at DATETIME NOT NULL, recorded_at DATETIME NOT NULL, CONSTRAINT pk_shop_copy PRIMARY KEY (id))""")
    op.execute("CREATE INDEX ix_shop_copy_happened_at ON shop_copy (happened_at)")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

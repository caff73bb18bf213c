"""Where an item lies, and what a pack that came held.

Revision ID: 0033
Revises: 0032
"""

from alembic import op

revision = '0033'
down_revision = '0032'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("ALTER TABLE item ADD COLUMN place VARCHAR DEFAULT '' NOT NULL")
    op.execute("ALTER TABLE order_note ADD COLUMN amount DOUBLE")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

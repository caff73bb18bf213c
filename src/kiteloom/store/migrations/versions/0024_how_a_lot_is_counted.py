"""How a lot is counted: by mass, in metres off the roll, or in pieces.

Revision ID: 0024
Revises: 0023
"""

from alembic import op

revision = '0024'
down_revision = '0023'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("ALTER TABLE lot RENAME COLUMN received_g TO received")
    op.execute("ALTER TABLE lot ADD COLUMN measure VARCHAR NOT NULL DEFAULT 'mass'")
    op.execute("ALTER TABLE lot_note RENAME COLUMN grams TO amount")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

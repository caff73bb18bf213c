"""The day an inspector was asked for, so that nothing is closed before it.

Revision ID: 0029
Revises: 0028
"""

from alembic import op

revision = '0029'
down_revision = '0028'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("ALTER TABLE gate_note ADD COLUMN day DATE")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

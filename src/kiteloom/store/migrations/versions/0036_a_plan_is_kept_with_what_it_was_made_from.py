"""An accepted plan is kept with what it was made from, its order, seed and version.

Revision ID: 0036
Revises: 0035
"""

from alembic import op

revision = '0036'
down_revision = '0035'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("ALTER TABLE kept_plan ADD COLUMN made_from BLOB")
    op.execute("ALTER TABLE kept_plan ADD COLUMN keys JSON DEFAULT '[]' NOT NULL")
    op.execute("ALTER TABLE kept_plan ADD COLUMN seed INTEGER")
    op.execute("ALTER TABLE kept_plan ADD COLUMN version VARCHAR DEFAULT '' NOT NULL")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

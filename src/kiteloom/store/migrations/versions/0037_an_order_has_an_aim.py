"""A search for a better order has an aim, and so has the order that stands.

Revision ID: 0037
Revises: 0036
"""

from alembic import op

revision = '0037'
down_revision = '0036'
branch_labels = None
depends_on = None


def upgrade() -> None:
    for table in ("standing_order", "plan_search"):
        op.execute(f"ALTER TABLE {table} ADD COLUMN aim VARCHAR DEFAULT 'soonest' NOT NULL")
        op.execute(f"ALTER TABLE {table} ADD COLUMN done_by DATETIME")
    op.execute("ALTER TABLE plan_search ADD COLUMN begins JSON DEFAULT '{}' NOT NULL")
    op.execute("ALTER TABLE plan_search ADD COLUMN frees BOOLEAN DEFAULT 0 NOT NULL")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

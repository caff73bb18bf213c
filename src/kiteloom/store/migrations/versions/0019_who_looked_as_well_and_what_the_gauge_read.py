"""A tick of a run sheet says who looked as well, and what the gauge of the bag read"""

from alembic import op

revision = '0019'
down_revision = '0018'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("ALTER TABLE tick ADD COLUMN second_id VARCHAR(36) REFERENCES crew_member (id)")
    op.execute("ALTER TABLE tick ADD COLUMN mbar DOUBLE")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

"""A zone takes parts up to a length; a post-cure is cooled at a rate, and its heat comes from somewhere"""

from alembic import op

revision = '0018'
down_revision = '0017'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("ALTER TABLE zone ADD COLUMN longest_m DOUBLE")
    op.execute("ALTER TABLE heating ADD COLUMN cool_k_h DOUBLE")
    op.execute("ALTER TABLE heating ADD COLUMN heat_from VARCHAR NOT NULL DEFAULT ''")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

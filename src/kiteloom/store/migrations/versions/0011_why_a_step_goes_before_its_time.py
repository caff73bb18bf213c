"""Why a step goes before its time: said when it is begun all the same"""

from alembic import op

revision = '0011'
down_revision = '0010'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("ALTER TABLE work ADD COLUMN note VARCHAR NOT NULL DEFAULT ''")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

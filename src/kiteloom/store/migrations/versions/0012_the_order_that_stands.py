"""The order that stands: a plan keeps it until another is clearly better; and what moved the end last"""

from alembic import op

revision = '0012'
down_revision = '0011'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute(
        "CREATE TABLE standing_order ("
        "id INTEGER NOT NULL, keys JSON NOT NULL, begins JSON NOT NULL, judged INTEGER NOT NULL, said JSON NOT NULL, finish DATETIME, "
        "moved VARCHAR NOT NULL, moved_at DATETIME, recorded_at DATETIME NOT NULL, "
        "CONSTRAINT pk_standing_order PRIMARY KEY (id))"
    )


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

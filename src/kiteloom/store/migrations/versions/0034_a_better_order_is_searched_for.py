"""Searches for a better order of the plan.

Revision ID: 0034
Revises: 0033
"""

from alembic import op

revision = '0034'
down_revision = '0033'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute(
        'CREATE TABLE plan_search ( '
        'id VARCHAR(36) NOT NULL, '
        'seconds DOUBLE NOT NULL, '
        'seed INTEGER NOT NULL, '
        'version VARCHAR NOT NULL, '
        'state VARCHAR NOT NULL, '
        'words VARCHAR NOT NULL, '
        'ends JSON NOT NULL, '
        'keys JSON NOT NULL, '
        'overnight BOOLEAN NOT NULL, '
        'asked_at DATETIME NOT NULL, '
        'kept_at DATETIME, '
        'hidden_at DATETIME, '
        'CONSTRAINT pk_plan_search PRIMARY KEY (id), '
        "CONSTRAINT ck_plan_search_state CHECK (state IN ('waiting','looking','done','stopped','failed')) "
        ') '
    )
    op.execute("ALTER TABLE standing_order ADD COLUMN overnight BOOLEAN DEFAULT 1 NOT NULL")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

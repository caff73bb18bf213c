"""Questions put to the plan: what if, what would help most, how sure.

Revision ID: 0035
Revises: 0034
"""

from alembic import op

revision = '0035'
down_revision = '0034'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute(
        'CREATE TABLE plan_study ( '
        'id VARCHAR(36) NOT NULL, '
        'kind VARCHAR NOT NULL, '
        'asked JSON NOT NULL, '
        'found JSON NOT NULL, '
        'seed INTEGER NOT NULL, '
        'change INTEGER NOT NULL, '
        'version VARCHAR NOT NULL, '
        'state VARCHAR NOT NULL, '
        'words VARCHAR NOT NULL, '
        'asked_at DATETIME NOT NULL, '
        'kept_at DATETIME, '
        'hidden_at DATETIME, '
        'CONSTRAINT pk_plan_study PRIMARY KEY (id), '
        "CONSTRAINT ck_plan_study_kind CHECK (kind IN ('what if','helps','sure')), "
        "CONSTRAINT ck_plan_study_state CHECK (state IN ('waiting','looking','done','stopped','failed')) "
        ') '
    )


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

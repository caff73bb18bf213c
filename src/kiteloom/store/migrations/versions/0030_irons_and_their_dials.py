"""Irons for covering, and what their dials were read at.

Revision ID: 0030
Revises: 0029
"""

from alembic import op

revision = '0030'
down_revision = '0029'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute(
        "CREATE TABLE iron (id VARCHAR(36) NOT NULL, name VARCHAR NOT NULL, hidden_at DATETIME, "
        "version INTEGER NOT NULL, updated_at DATETIME NOT NULL, CONSTRAINT pk_iron PRIMARY KEY (id))"
    )
    op.execute(
        "CREATE TABLE iron_reading (id VARCHAR(36) NOT NULL, iron_id VARCHAR NOT NULL, dial DOUBLE NOT NULL, "
        "temp_c DOUBLE NOT NULL, happened_at DATETIME NOT NULL, recorded_at DATETIME NOT NULL, "
        "CONSTRAINT pk_iron_reading PRIMARY KEY (id), "
        "CONSTRAINT fk_iron_reading_iron_id FOREIGN KEY(iron_id) REFERENCES iron (id))"
    )
    op.execute("CREATE INDEX ix_iron_reading_iron_id ON iron_reading (iron_id)")
    op.execute("CREATE INDEX ix_iron_reading_happened_at ON iron_reading (happened_at)")
    for change in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER iron_reading_no_{change.lower()} BEFORE {change} ON iron_reading "
            "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
        )


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

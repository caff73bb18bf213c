"""What a joint ties and asks for, the gaps of its dry fit, and the moisture of wood.

Revision ID: 0025
Revises: 0024
"""

from alembic import op

revision = '0025'
down_revision = '0024'
branch_labels = None
depends_on = None

FACT = "happened_at DATETIME NOT NULL, recorded_at DATETIME NOT NULL"


def upgrade() -> None:
    op.execute(
        "CREATE TABLE joint (part_id VARCHAR NOT NULL, faces JSON NOT NULL, loose JSON NOT NULL, "
        "located JSON NOT NULL, after JSON NOT NULL, shuts JSON NOT NULL, fasteners JSON NOT NULL, "
        "version INTEGER NOT NULL, updated_at DATETIME NOT NULL, "
        "CONSTRAINT pk_joint PRIMARY KEY (part_id), "
        "CONSTRAINT fk_joint_part_id FOREIGN KEY(part_id) REFERENCES part (id))"
    )
    op.execute(
        f"CREATE TABLE dry_fit (id VARCHAR(36) NOT NULL, part_id VARCHAR NOT NULL, gaps JSON NOT NULL, "
        f"note VARCHAR NOT NULL, {FACT}, CONSTRAINT pk_dry_fit PRIMARY KEY (id), "
        "CONSTRAINT fk_dry_fit_part_id FOREIGN KEY(part_id) REFERENCES part (id))"
    )
    op.execute("CREATE INDEX ix_dry_fit_part_id ON dry_fit (part_id)")
    op.execute("CREATE INDEX ix_dry_fit_happened_at ON dry_fit (happened_at)")
    for change in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER dry_fit_no_{change.lower()} BEFORE {change} ON dry_fit "
            "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
        )
    op.execute("ALTER TABLE tick ADD COLUMN moisture_pct DOUBLE")


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

"""People sign in by name and PIN, inspectors come by a link; who wrote a fact down is known.

Revision ID: 0040
Revises: 0039
"""

from alembic import op

revision = '0040'
down_revision = '0039'
branch_labels = None
depends_on = None

WHO = """crew_member_id VARCHAR(36), guest_id VARCHAR(36),
        CONSTRAINT ck_{0}_one CHECK ((crew_member_id IS NULL) <> (guest_id IS NULL)),
        CONSTRAINT fk_{0}_crew_member_id FOREIGN KEY(crew_member_id) REFERENCES crew_member (id),
        CONSTRAINT fk_{0}_guest_id FOREIGN KEY(guest_id) REFERENCES guest (id)"""


def upgrade() -> None:
    op.execute("""ALTER TABLE crew_member ADD COLUMN role VARCHAR DEFAULT 'builder' NOT NULL
        CONSTRAINT ck_crew_member_role CHECK (role IN ('lead','builder','looker-on'))""")
    op.execute("""CREATE TABLE secret (
        crew_member_id VARCHAR(36) NOT NULL, hashed VARCHAR NOT NULL, set_at DATETIME NOT NULL,
        wrong INTEGER DEFAULT 0 NOT NULL, wrong_at DATETIME,
        CONSTRAINT pk_secret PRIMARY KEY (crew_member_id),
        CONSTRAINT fk_secret_crew_member_id FOREIGN KEY(crew_member_id) REFERENCES crew_member (id))""")
    op.execute("""CREATE TABLE guest (
        id VARCHAR(36) NOT NULL, name VARCHAR NOT NULL, digest VARCHAR NOT NULL, ends_at DATETIME NOT NULL,
        recorded_at DATETIME NOT NULL, crew_member_id VARCHAR(36),
        version INTEGER DEFAULT 1 NOT NULL, updated_at DATETIME NOT NULL,
        CONSTRAINT pk_guest PRIMARY KEY (id),
        CONSTRAINT uq_guest_digest UNIQUE (digest),
        CONSTRAINT fk_guest_crew_member_id FOREIGN KEY(crew_member_id) REFERENCES crew_member (id))""")
    op.execute(f"""CREATE TABLE sign_in (
        digest VARCHAR NOT NULL, began_at DATETIME NOT NULL, used_at DATETIME NOT NULL, ends_at DATETIME NOT NULL,
        {WHO.format('sign_in')}, CONSTRAINT pk_sign_in PRIMARY KEY (digest))""")
    op.execute("CREATE INDEX ix_sign_in_crew_member_id ON sign_in (crew_member_id)")
    op.execute("CREATE INDEX ix_sign_in_guest_id ON sign_in (guest_id)")
    op.execute(f"""CREATE TABLE written (
        "table" VARCHAR NOT NULL, ref VARCHAR NOT NULL,
        {WHO.format('written')}, CONSTRAINT pk_written PRIMARY KEY ("table", ref))""")
    for verb in ('UPDATE', 'DELETE'):
        op.execute(
            f"CREATE TRIGGER written_no_{verb.lower()} BEFORE {verb} ON written "
            "BEGIN SELECT RAISE(ABORT, 'what happened is not changed; add a correction'); END"
        )


def downgrade() -> None:
    raise NotImplementedError("what was kept would be lost")

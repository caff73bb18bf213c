from alembic import context

from kiteloom.store.models import Base

connection = context.config.attributes["connection"]
# All or nothing: a folder whose migration was stopped half way opens as it was before.
context.configure(
    connection=connection,
    target_metadata=Base.metadata,
    render_as_batch=True,
    transactional_ddl=True,
    transaction_per_migration=False,
)
with context.begin_transaction():
    context.run_migrations()
    broken = connection.exec_driver_sql("PRAGMA foreign_key_check").fetchall()
    if broken:
        raise RuntimeError(
            f"the migration would lose {len(broken)} references, the first of {broken[0][0]}; nothing was changed"
        )

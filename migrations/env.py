"""Migrations run against the database of the settings."""

from alembic import context
from sqlalchemy import create_engine, text

from crumb.settings import get_settings
from crumb.store.tables import Base

engine = create_engine(get_settings().database_url)
with engine.connect() as connection:
    connection.execute(text("set lock_timeout = '10s'"))
    connection.commit()
    context.configure(connection=connection, target_metadata=Base.metadata, compare_type=True)
    with context.begin_transaction():
        context.run_migrations()

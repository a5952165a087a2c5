"""Alembic's entry point."""

from alembic import context
from sqlalchemy import create_engine

from rhytonic.store.models import Base

url = context.config.get_main_option("sqlalchemy.url") or ""
with create_engine(url).connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata)
    with context.begin_transaction():
        context.run_migrations()

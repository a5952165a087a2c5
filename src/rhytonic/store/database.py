"""The connection to PostgreSQL, and its migrations."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from sqlalchemy import create_engine, text
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session, sessionmaker


class Database:
    """One engine and its sessions."""

    def __init__(self, url: str) -> None:
        self.url = url
        options = "-c statement_timeout=30000 -c lock_timeout=5000"
        self.engine = create_engine(url, pool_pre_ping=True, pool_size=10, max_overflow=10,
                                    connect_args={"connect_timeout": 5, "options": options})
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)

    @contextmanager
    def session(self) -> Iterator[Session]:
        """A transaction: committed at the end, rolled back on any error."""
        with self._sessions.begin() as session:
            yield session

    def answers(self) -> bool:
        """Whether the database can be reached and asked."""
        try:
            with self.engine.connect() as connection:
                return bool(connection.scalar(text("select 1")) == 1)
        except SQLAlchemyError:
            return False


def migrate(url: str) -> None:
    """Bring the database's tables up to date."""
    from alembic import command  # only whoever starts the server needs it
    from alembic.config import Config
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.set_main_option("sqlalchemy.url", url.replace("%", "%%"))
    command.upgrade(config, "head")

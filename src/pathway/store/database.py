"""Opens the database and brings its tables up to date."""

from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from pydantic_core import from_json, to_json
from sqlalchemy import Engine, create_engine, event

MIGRATIONS = Path(__file__).parent / "migrations"


def open_database(url: str) -> Engine:
    """Return an engine on an up-to-date database.

    Args:
        url: as SQLAlchemy takes it; a school can point it at a server.
    """
    engine = create_engine(url, json_serializer=_to_json, json_deserializer=from_json)
    if engine.dialect.name == "sqlite":
        event.listen(engine, "connect", _set_up_sqlite)
    migrate(engine)
    return engine


def _to_json(value: Any) -> str:
    """Write a column; the long ones are paths, thousands of numbers that every edit writes."""
    return to_json(value).decode()


def migrate(engine: Engine) -> None:
    """Bring the tables to the newest form, keeping what they hold."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")


def _set_up_sqlite(connection: Any, _record: object) -> None:
    cursor = connection.cursor()
    cursor.execute("PRAGMA journal_mode=WAL")
    cursor.execute("PRAGMA synchronous=NORMAL")  # with WAL a crash of the app loses nothing
    cursor.execute("PRAGMA foreign_keys=ON")
    cursor.execute("PRAGMA busy_timeout=5000")
    cursor.close()

"""The schema that the migrations make is the one that the tables describe."""

from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext

from passerelle.demo.port_aubier import demo_links
from passerelle.store.database import Database
from passerelle.store.tables import Base


def test_migrations_and_tables_agree(database: Database) -> None:
    with database.engine.connect() as connection:
        context = MigrationContext.configure(connection)
        assert compare_metadata(context, Base.metadata) == []


def test_opening_a_database_again_keeps_it(database: Database) -> None:
    again = Database(database.path)
    with again.read() as session:
        assert session.connection().exec_driver_sql("SELECT count(*) FROM link").scalar() == len(demo_links())
    again.close()

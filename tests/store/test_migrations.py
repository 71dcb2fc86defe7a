"""The schema that the migrations make is the one that the tables describe."""

from alembic.autogenerate import compare_metadata
from alembic.config import Config
from alembic.migration import MigrationContext
from alembic.script import ScriptDirectory

from passerelle.demo.port_aubier import demo_links
from passerelle.store.database import MIGRATIONS, Database, newest_revision
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


def test_the_newest_revision_is_the_head_of_the_migrations() -> None:
    """It is read from the files' names at each start; alembic follows what each says of the one before."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    assert ScriptDirectory.from_config(config).get_heads() == [newest_revision()]


def test_an_older_database_knows_which_ports_its_links_use(database: Database) -> None:
    """As released with 0011: without the table, which is filled from the links that there are."""
    query = "SELECT link_id, place, label, leg, project_id FROM port_use ORDER BY link_id, place, label, leg"
    with database.write() as session:
        known = session.connection().exec_driver_sql(query).all()
        for table in ("port_use", "web_session", "attachment_use"):
            session.connection().exec_driver_sql(f"DROP TABLE {table}")
        session.connection().exec_driver_sql("ALTER TABLE project DROP COLUMN log_end")
        session.connection().exec_driver_sql("UPDATE alembic_version SET version_num = '0011'")
    database.close()
    again = Database(database.path)
    with again.read() as session:
        assert session.connection().exec_driver_sql(query).all() == known
        assert len(known) > len(demo_links())
    again.close()

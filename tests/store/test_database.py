"""The database as others of this machine meet it, and as it is after power, an upgrade or a kill broke something
off."""

import contextlib
import os
import signal
import socket
import time
from itertools import pairwise

import pymysql
import pytest

from tests.patience import wait_until
from yarnkite import __version__
from yarnkite.core.base.atomic import write_private
from yarnkite.store import migrate
from yarnkite.store import server as server_module
from yarnkite.store.database import Database
from yarnkite.store.server import KEEPER, SCHEMA, USER, DatabaseDidNotStart, DatabaseServer

NOBODY = 65534


@pytest.fixture
def server(tmp_path):
    server = DatabaseServer(tmp_path / "database")
    yield server
    server.stop()


@pytest.fixture
def database(server):
    database = Database(server.start(), server.trouble)
    database.migrate()
    yield database
    database.close()


def connected(address, user, password="", host="127.0.0.1", **other):
    return pymysql.connect(
        host=host, port=address.port, user=user, password=password, ssl_disabled=True, autocommit=True, **other
    )


def tried_by_another(attempt):
    """Carry something out as a local user who owns nothing here; returns what came of it."""
    reading, writing = os.pipe()
    if child := os.fork():
        os.close(writing)
        with os.fdopen(reading) as said:
            answer = said.read()
        os.waitpid(child, 0)
        return answer
    try:
        if os.geteuid() == 0:
            os.setgroups([])
            os.setuid(NOBODY)
        os.write(writing, str(attempt()).encode())
    except BaseException as error:
        os.write(writing, f"refused: {type(error).__name__}".encode())
    finally:
        os._exit(0)


def test_no_account_lets_another_user_of_this_machine_in(server, database):
    hosts = ("127.0.0.1", "::1", "localhost", socket.gethostname())
    ways = [{"host": host} for host in hosts] + [{"unix_socket": str(server.socket)}]
    assert server.socket.exists()
    for user in ("root", "", "mariadb.sys", USER, KEEPER, "mysql", "PUBLIC"):
        for way in ways:
            said = tried_by_another(lambda user=user, way=way: connected(server.address, user, **way).host_info)
            assert said.startswith("refused"), (user, way, said)


def test_our_accounts_have_no_more_rights_than_they_need(server, database, tmp_path):
    with connected(server.address, USER, server.address.password) as own, own.cursor() as cursor:
        cursor.execute("SHOW GRANTS")
        rights = " ".join(row[0] for row in cursor.fetchall())
        assert "GRANT OPTION" not in rights
        for word in ("ALL PRIVILEGES", "FILE", "SUPER", "CREATE USER", "DROP", "ALTER"):
            assert word not in rights
        cursor.execute("SELECT @@secure_file_priv, @@local_infile, @@bind_address")
        folder, infile, bound = cursor.fetchone()
        assert (list(os.scandir(folder)), infile, bound) == ([], 0, "127.0.0.1")
        for statement in (
            f"SELECT 1 INTO OUTFILE '{tmp_path}/out'",
            "SELECT * FROM mysql.global_priv",
            "CREATE USER stranger",
            f"GRANT ALL ON {SCHEMA}.* TO '{USER}'@'%'",
            f"DROP TABLE {SCHEMA}.project",
        ):
            with pytest.raises(pymysql.err.MySQLError):
                cursor.execute(statement)


def test_a_data_folder_of_an_earlier_edition_is_mended_at_its_next_start(server, database, tmp_path, monkeypatch):
    """As it was made before: an administrator without a password on every name, and everything for our account."""
    port = server.address.port
    database.close()
    server.stop()
    plain = server.folder / "plain.sql"
    plain.write_text(
        "CREATE USER 'root'@'127.0.0.1';\nGRANT ALL ON *.* TO 'root'@'127.0.0.1' WITH GRANT OPTION;\n"
        "CREATE USER ''@'127.0.0.1';\nCREATE USER 'root'@'::1';\n"
        f"GRANT ALL ON {SCHEMA}.* TO '{USER}'@'127.0.0.1' WITH GRANT OPTION;\n"
    )
    (server.folder / "accounts").unlink()
    again = DatabaseServer(server.folder)
    monkeypatch.setattr(server_module, "write_private", lambda path, text: write_private(path, plain.read_text()))
    try:
        again.address = type(server.address)("127.0.0.1", port, server.address.password)
        again._socket = tmp_path
        again._launch()
        wait_until(lambda: _answers(again.address))
        assert not tried_by_another(lambda: connected(again.address, "location").host_info).startswith("refused")
    finally:
        monkeypatch.undo()
        again.stop()
    server.start()
    assert tried_by_another(lambda: connected(server.address, "location").host_info).startswith("refused")
    assert tried_by_another(lambda: connected(server.address, "anyone").host_info).startswith("refused")
    with connected(server.address, USER, server.address.password) as own, own.cursor() as cursor:
        cursor.execute("SHOW GRANTS")
        assert "ALL PRIVILEGES" not in " ".join(row[0] for row in cursor.fetchall())


def _answers(address):
    with contextlib.suppress(pymysql.err.MySQLError):
        connected(address, "location").close()
        return True
    return False


@pytest.mark.parametrize("left", ["", "\n", "abc"])
def test_a_password_that_was_not_written_whole_is_replaced(server, database, left):
    password = server.address.password
    database.close()
    server.stop()
    (server.folder / "password").write_text(left)
    address = server.start()
    assert len(address.password) > 16
    assert address.password != password
    connected(address, USER, address.password).close()
    assert (server.folder / "password").stat().st_mode & 0o777 == 0o600
    assert server.folder.stat().st_mode & 0o777 == 0o700


STEPS = [(one.name, step) for one in migrate.migrations() for step in range(len(one.statements))]
# A table is made, a column added, a column renamed; the rest in the long run.
OFTEN = {("0001.projects-and-shots", 2), ("0006.sorting-and-interchange", 0), ("0010.standard-terms", 0)}


@pytest.mark.parametrize("at", [one if one in OFTEN else pytest.param(one, marks=pytest.mark.long) for one in STEPS])
def test_each_step_of_the_first_start_may_be_the_last_before_a_kill(empty, whole, at):
    """Killed just after a statement, before that was noted, the next start completes what was begun."""
    _broken_off(empty, at)
    empty.migrate()
    assert schema_of(empty) == whole


@pytest.fixture
def empty(server):
    """A database in which no statement was carried out yet."""
    database = Database(server.start())
    yield database
    database.close()


@pytest.fixture(scope="module")
def whole(tmp_path_factory):
    """The schema as one start makes it that nothing breaks off."""
    server = DatabaseServer(tmp_path_factory.mktemp("whole"))
    try:
        database = Database(server.start())
        database.migrate()
        found = schema_of(database)
        database.close()
        return found
    finally:
        server.stop()


class _Killed(BaseException):
    pass


def _broken_off(database, at):
    """Migrate until a statement has been carried out that is not noted yet, then vanish."""
    carry_out = migrate._carry_out

    def until(connection, cursor, one, step, *, begun):
        if (one.name, step) != at:
            return carry_out(connection, cursor, one, step, begun=begun)
        if not one.statements[step].upper().startswith(migrate._ROWS):
            cursor.execute("REPLACE INTO migration_step VALUES (%s, %s, 0)", at)
            connection.commit()
            cursor.execute(one.statements[step])
        raise _Killed

    migrate._carry_out = until
    try:
        with pytest.raises(_Killed):
            database.migrate()
    finally:
        migrate._carry_out = carry_out


def schema_of(database):
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT TABLE_NAME, COLUMN_NAME, COLUMN_TYPE, IS_NULLABLE, COLUMN_DEFAULT, COLUMN_KEY, EXTRA"
            " FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = %s ORDER BY TABLE_NAME, ORDINAL_POSITION",
            (SCHEMA,),
        )
        columns = [tuple(row.values()) for row in cursor.fetchall()]
        cursor.execute(
            "SELECT TABLE_NAME, INDEX_NAME, COLUMN_NAME, SEQ_IN_INDEX FROM information_schema.STATISTICS"
            " WHERE TABLE_SCHEMA = %s ORDER BY 1, 2, 4",
            (SCHEMA,),
        )
        return columns, [tuple(row.values()) for row in cursor.fetchall()]


def test_a_killed_migration_leaves_no_lock_behind(server, database):
    """Held while its process is killed, the lock is free for the next start at once."""
    reading, writing = os.pipe()
    if not (child := os.fork()):
        held = connected(server.address, KEEPER, server.address.password, database=SCHEMA)
        held.cursor().execute("SELECT GET_LOCK(CONCAT(DATABASE(), '.migrations'), 5)")
        os.write(writing, b"held")
        time.sleep(600)
    assert os.read(reading, 4) == b"held"
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    database.migrate()


def test_what_an_earlier_edition_noted_as_carried_out_is_not_carried_out_again(server, whole):
    """Earlier editions noted whole files in a table of their own."""
    database = Database(server.start())
    try:
        database.migrate("0017.colours")
        with connected(server.address, KEEPER, server.address.password, database=SCHEMA) as keeper:
            cursor = keeper.cursor()
            cursor.execute("CREATE TABLE _yoyo_migration (migration_hash VARCHAR(64), migration_id VARCHAR(255))")
            names = [one.name for one in migrate.migrations() if one.name <= "0017.colours"]
            cursor.executemany("INSERT INTO _yoyo_migration VALUES ('x', %s)", [(name,) for name in names])
            cursor.execute("DROP TABLE migration_step")
            cursor.execute("DROP TABLE edition")
            cursor.execute("INSERT INTO project (name) VALUES ('Kept')")
        database.migrate()
        with database.transaction() as cursor:
            cursor.execute("SELECT DISTINCT migration FROM migration_step")
            assert [row["migration"] for row in cursor.fetchall()] == [
                one.name for one in migrate.migrations() if one.name > "0017.colours"
            ]
            cursor.execute("SELECT name FROM project")
            assert [row["name"] for row in cursor.fetchall()] == ["Kept"]
            cursor.execute("DROP TEMPORARY TABLE IF EXISTS nothing")
        with connected(server.address, KEEPER, server.address.password, database=SCHEMA) as keeper:
            keeper.cursor().execute("DROP TABLE _yoyo_migration")
        assert schema_of(database) == whole
    finally:
        database.close()


def test_data_of_a_newer_edition_is_refused_by_name(database, server):
    with connected(server.address, KEEPER, server.address.password, database=SCHEMA) as keeper:
        keeper.cursor().execute("INSERT INTO migration_step VALUES ('9999.flying', 0, 1)")
        keeper.cursor().execute("UPDATE edition SET version = '7.3.0'")
    with pytest.raises(migrate.NewerData, match=f"edition 7.3.0 of Yarn Kite, and this is edition {__version__}"):
        database.migrate()
    with database.transaction() as cursor:
        cursor.execute("SELECT version FROM edition")
        assert cursor.fetchone()["version"] == "7.3.0"


def test_a_database_that_cannot_start_says_why_and_is_not_begun_without_end(server, database):
    database.close()
    server.stop()
    (server.folder / "files" / "ibdata1").write_bytes(b"this is no tablespace" * 1000)
    starts = []
    launch = server._launch
    server._launch = lambda: (starts.append(time.monotonic()), launch())
    with pytest.raises(DatabaseDidNotStart, match=r"The database does not start: .+log\.txt"):
        server.start()
    assert 2 <= len(starts) <= 6
    pauses = [after - before for before, after in pairwise(starts)]
    assert pauses[-1] > 2 * pauses[0] > 0

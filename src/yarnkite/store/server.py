"""The database server: MariaDB on loopback with a data folder and a random password of its own."""

import contextlib
import ctypes
import hashlib
import os
import secrets
import shutil
import signal
import socket
import subprocess
import tempfile
import threading
import time
from dataclasses import dataclass
from pathlib import Path

import pymysql

from yarnkite.core.base.atomic import write_private
from yarnkite.core.base.errors import DiskFull, Refusal

USER = SCHEMA = "yarnkite"
# The account that changes tables; the other reads and writes rows.
KEEPER = "yarnkite_keeper"
START_TIMEOUT_S = 60
_PR_SET_PDEATHSIG = 1
_SHORTEST_PASSWORD = 16
# A database that ends as soon as it begins is begun again after this, each time after twice as long.
_FIRST_PAUSE_S, _LONGEST_PAUSE_S = 0.3, 30.0
_MOST_STARTS = 6
_TAKEN = "Unable to lock"
# An empty database takes two thirds of it.
_LEAST_FREE_BYTES = 300_000_000
_IN_MEMORY, _MEMORY_ENOUGH_BYTES = Path("/dev/shm"), 256_000_000


def _errors(said: str) -> str:
    """Return the lines that say what went wrong, of all that was said."""
    return "\n".join(line for line in said.splitlines() if "ERROR" in line) or said


class DatabaseDidNotStart(Refusal):
    """MariaDB is missing or did not come up; the sentence says why and what to do."""

    def __init__(self, sentence: str) -> None:
        super().__init__("no_database", sentence)


@dataclass(frozen=True)
class Address:
    """Where the database answers, and as whom to ask."""

    host: str
    port: int
    password: str


class DatabaseServer:
    """Starts MariaDB on a data folder, starts it again if it dies, and stops it cleanly."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.address = Address("127.0.0.1", 0, "")
        self._process: subprocess.Popen[bytes] | None = None
        self._stopping = threading.Event()
        self._socket: Path | None = None
        self._trouble = ""

    def trouble(self) -> str:
        """Return a sentence on why the database does not come back, or nothing as long as it may."""
        return self._trouble

    def begin(self) -> None:
        """Launch the server, once, and wait for nothing; raises ``DatabaseDidNotStart`` or ``DiskFull``.

        It ends with the thread that calls this.
        """
        if self._process is not None:
            return
        self.folder.mkdir(parents=True, exist_ok=True)
        self.folder.chmod(0o700)
        self._stopping.clear()
        self._socket = _socket_folder()
        if not (self.folder / "files" / "mysql").is_dir():
            self._create()
        self.address = Address("127.0.0.1", _free_port(), self._password())
        self._launch()

    def start(self) -> Address:
        """Start the server, if it was not begun already, and wait until it answers; raises ``DatabaseDidNotStart``."""
        self.begin()
        self._wait_until_it_answers()
        threading.Thread(target=self._watch, name="database-watch", daemon=True).start()
        return self.address

    def stop(self) -> None:
        """Shut the server down cleanly and wait for it."""
        self._stopping.set()
        if self._process and self._process.poll() is None:
            self._process.terminate()
            try:
                self._process.wait(timeout=30)
            except subprocess.TimeoutExpired:
                self._process.kill()
                self._process.wait()
        self._process = None
        if self._socket is not None:
            shutil.rmtree(self._socket, ignore_errors=True)
        if (temporary := self._temporary()).is_relative_to(_IN_MEMORY):
            shutil.rmtree(temporary, ignore_errors=True)

    @property
    def socket(self) -> Path:
        """Where the database listens on this machine besides its port: in a folder only its owner can look into."""
        assert self._socket is not None
        return self._socket / "socket"

    @property
    def pid(self) -> int | None:
        return self._process.pid if self._process else None

    def _create(self) -> None:
        unfinished = self.folder / "files.part"
        shutil.rmtree(unfinished, ignore_errors=True)
        if (free := shutil.disk_usage(self.folder).free) < _LEAST_FREE_BYTES:
            raise DiskFull(
                "no_room",
                f"A new database needs {_LEAST_FREE_BYTES / 1e6:.0f} MB in {self.folder}, and {free / 1e6:.0f} MB are "
                "free. Free some space there, or name another folder with --data.",
            )
        result = subprocess.run(
            [
                _program("mariadb-install-db"),
                "--no-defaults",
                f"--datadir={unfinished}",
                f"--user={_user_name()}",
                "--auth-root-authentication-method=normal",
                "--skip-test-db",
            ],
            capture_output=True,
            text=True,
            check=False,
            env=self._surroundings(),
        )
        if result.returncode != 0:
            raise DatabaseDidNotStart(
                f"The database could not be set up in {unfinished}:\n{_errors(result.stdout + result.stderr)}"
            )
        shutil.rmtree(self.folder / "files", ignore_errors=True)
        unfinished.rename(self.folder / "files")

    def _temporary(self) -> Path:
        """Return a folder for what the database needs for a moment.

        One that starts clears such files away, also those of another that runs beside it: each has its own. It lies in
        memory where there is some, for what is read must not need a disk that may be full.
        """
        if _IN_MEMORY.is_dir() and shutil.disk_usage(_IN_MEMORY).free > _MEMORY_ENOUGH_BYTES:
            name = hashlib.sha256(os.fsencode(self.folder.resolve())).hexdigest()[:16]
            return _IN_MEMORY / f"yarnkite-{os.geteuid()}-{name}"
        return self.folder / "temporary"

    def _surroundings(self) -> dict[str, str]:
        temporary = self._temporary()
        temporary.mkdir(exist_ok=True, mode=0o700)
        if temporary.is_symlink() or temporary.stat().st_uid != os.geteuid():
            # Somebody else made it: not for what is in this database.
            temporary = self.folder / "temporary"
            temporary.mkdir(exist_ok=True, mode=0o700)
        return os.environ | {"TMPDIR": str(temporary)}

    def _password(self) -> str:
        """Return the password of our accounts; one that was never written whole is replaced, as it is set at each
        start."""
        path = self.folder / "password"
        found = path.read_text().strip() if path.exists() else ""
        if len(found) < _SHORTEST_PASSWORD:
            found = secrets.token_urlsafe(24)
            write_private(path, found)
        return found

    def _launch(self) -> None:
        start_sql, no_files = self.folder / "start.sql", self.folder / "no-files"
        no_files.mkdir(exist_ok=True, mode=0o700)
        begin = []
        # Where they are as they should be, a start needs no room for that.
        if not self._accounts_are_made():
            write_private(start_sql, _accounts(self.address.password))
            begin = [f"--init-file={start_sql}"]
        with (self.folder / "log.txt").open("ab") as log:
            self._process = subprocess.Popen(
                [
                    _program("mariadbd"),
                    "--no-defaults",
                    f"--user={_user_name()}",
                    f"--datadir={self.folder / 'files'}",
                    f"--socket={self.socket}",
                    f"--pid-file={self.folder / 'pid'}",
                    *begin,
                    "--bind-address=127.0.0.1",
                    f"--port={self.address.port}",
                    "--skip-name-resolve",
                    f"--secure-file-priv={no_files}",
                    "--local-infile=OFF",
                    "--skip-log-bin",
                    f"--innodb-buffer-pool-size={_buffer_pool_mb()}M",
                    "--performance-schema=OFF",
                    # Ten thousand stills are sorted in memory: reading must not need a disk that may be full.
                    "--sort-buffer-size=16M",
                    "--tmp-table-size=64M",
                    "--max-heap-table-size=64M",
                    "--max-allowed-packet=64M",
                    "--max-connections=60",
                    "--sql-mode=STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION,ERROR_FOR_DIVISION_BY_ZERO",
                ],
                stdout=log,
                stderr=log,
                stdin=subprocess.DEVNULL,
                env=self._surroundings(),
                # Ctrl-C reaches the whole group: the database must outlive the server that stops it cleanly.
                start_new_session=True,
                preexec_fn=_end_with_parent,
            )

    def _wait_until_it_answers(self) -> None:
        began, starts, pause = time.monotonic(), 1, _FIRST_PAUSE_S
        while time.monotonic() - began < START_TIMEOUT_S:
            if self._has_ended():
                # A server that was killed leaves its database closing down; the folder is free a moment later.
                if starts >= _MOST_STARTS and _TAKEN not in self._said():
                    raise DatabaseDidNotStart(self._why())
                time.sleep(pause)
                starts, pause = starts + 1, min(2 * pause, 2.0)
                self._launch()
            if self._answers():
                self._note_accounts()
                return
            time.sleep(0.05)
        raise DatabaseDidNotStart(f"MariaDB did not answer within {START_TIMEOUT_S} s. {self._why()}")

    def _accounts_are_made(self) -> bool:
        noted = self.folder / "accounts"
        return noted.exists() and noted.read_text() == self._accounts_mark()

    def _accounts_mark(self) -> str:
        return hashlib.sha256(_accounts(self.address.password).encode()).hexdigest()

    def _note_accounts(self) -> None:
        """Note that the accounts were made by these very statements; without that they are made again at the next
        start."""
        if not self._accounts_are_made():
            with contextlib.suppress(DiskFull):
                write_private(self.folder / "accounts", self._accounts_mark())

    def _answers(self) -> bool:
        try:
            pymysql.connect(
                host=self.address.host,
                port=self.address.port,
                user=USER,
                password=self.address.password,
                database=SCHEMA,
                connect_timeout=2,
                ssl_disabled=True,
            ).close()
        except pymysql.err.OperationalError:
            return False
        return True

    def _has_ended(self) -> bool:
        return self._process is not None and self._process.poll() is not None

    def _watch(self) -> None:
        """Start the database again whenever it has ended; one that does not stay is left alone for longer and
        longer."""
        pause, starts = _FIRST_PAUSE_S, 0
        while not self._stopping.wait(0.5):
            if not self._has_ended():
                if starts and self._answers():
                    pause, starts, self._trouble = _FIRST_PAUSE_S, 0, ""
                continue
            if starts >= _MOST_STARTS:
                self._trouble = self._why()
            if starts and self._stopping.wait(pause):
                return
            starts, pause = starts + 1, min(2 * pause, _LONGEST_PAUSE_S)
            self._launch()

    def _why(self) -> str:
        """Say why the database does not start, in its own words."""
        said = [line for line in self._said().splitlines() if "[ERROR]" in line]
        reason = said[-1].split("[ERROR]", 1)[1].strip() if said else "it does not say why"
        return f"The database does not start: {reason}. All of what it says is in {self.folder / 'log.txt'}."

    def _said(self) -> str:
        """Return the end of the database's log."""
        try:
            with (self.folder / "log.txt").open("rb") as log:
                log.seek(max(0, log.seek(0, os.SEEK_END) - 8000))
                return log.read().decode("utf-8", "replace")
        except OSError:
            return ""


def _accounts(password: str) -> str:
    """Return the statements that leave two accounts, ours, with no more rights than they need, whoever had any before.

    A fresh database has an account without a password for its administrator on every name of this machine.
    """
    ours = f"'{USER}', '{KEEPER}'"
    statements = [
        f"DELETE FROM mysql.global_priv WHERE User NOT IN ('mariadb.sys', 'PUBLIC', {ours})",
        f"DELETE FROM mysql.global_priv WHERE User IN ({ours}) AND Host <> '127.0.0.1'",
        f"DELETE FROM mysql.db WHERE User NOT IN ({ours}) OR Host <> '127.0.0.1'",
        "DELETE FROM mysql.proxies_priv",
        "FLUSH PRIVILEGES",
        f"CREATE DATABASE IF NOT EXISTS {SCHEMA} CHARACTER SET utf8mb4",
    ]
    rights = {
        USER: "SELECT, INSERT, UPDATE, DELETE, CREATE TEMPORARY TABLES",
        KEEPER: "SELECT, INSERT, UPDATE, DELETE, CREATE, ALTER, DROP, INDEX, REFERENCES, TRIGGER",
    }
    for name, granted in rights.items():
        account = f"'{name}'@'127.0.0.1'"
        statements += [
            f"CREATE USER IF NOT EXISTS {account}",
            f"ALTER USER {account} IDENTIFIED BY '{password}'",
            f"REVOKE ALL PRIVILEGES, GRANT OPTION FROM {account}",
            f"GRANT {granted} ON {SCHEMA}.* TO {account}",
        ]
    return "".join(f"{one};\n" for one in statements)


def _buffer_pool_mb() -> int:
    """Return how much of what is read the database keeps: a small part of the machine's memory, all of a usual shot."""
    memory = os.sysconf("SC_PHYS_PAGES") * os.sysconf("SC_PAGE_SIZE")
    return max(64, min(512, memory // 32_000_000))


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def _socket_folder() -> Path:
    # A socket's path may have 107 bytes only, so it cannot lie in just any data folder.
    wanted = os.environ.get("XDG_RUNTIME_DIR", "")
    return Path(tempfile.mkdtemp(prefix="yarnkite-", dir=wanted if Path(wanted).is_dir() and wanted else None))


def _user_name() -> str:
    import pwd

    return pwd.getpwuid(os.geteuid()).pw_name


def _program(name: str) -> str:
    path = shutil.which(name, path=os.environ.get("PATH", "") + ":/usr/sbin:/usr/bin")
    if path is None:
        raise DatabaseDidNotStart(f"{name} is missing. Install it with: apt-get install mariadb-server-core")
    return path


def _end_with_parent() -> None:
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)
